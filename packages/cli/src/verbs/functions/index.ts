/**
 * The verb `functions`: the functions of formulas, searchable.
 * @module
 */
import { Command } from 'commander'
import type { VerbTools } from '../verb.js'

/** The verb `functions`: the reference of the formula language, searchable by purpose. */
export function functionsCommand({ io, finish }: VerbTools): Command {
  return new Command('functions')
    .description('Without words lists all functions by family; with a name shows one; with other words searches by purpose.')
    .argument('[words...]', 'a name, a family, or what the function is for')
    .option('--book <book>', 'with words: formulas for their purpose, made of columns of this workbook')
    .option('--table <table>', 'of the workbook; may be left off where there is one only')
    .option('--no-color', 'no colours')
    .addHelpText(
      'after',
      "\nExamples:\n  mellow functions round\n  mellow functions text\n  mellow functions 'split a name'\n  mellow functions 'average honey by forage' --book honey --table harvests\n",
    )
    .action(async (words: string[], args: { color: boolean; book?: string; table?: string }) => {
      if (!args.color) io.colours = false
      const { book } = args
      if (book !== undefined) {
        const { runTemplates } = await import('./templates.js')
        return finish(await runTemplates(words.join(' '), { ...args, book }, io))
      }
      const { runFunctions } = await import('./functions.js')
      finish(runFunctions(words.join(' '), io))
    })
}
