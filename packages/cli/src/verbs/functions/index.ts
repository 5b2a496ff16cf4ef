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
    .option('--no-color', 'no colours')
    .addHelpText('after', "\nExamples:\n  mellow functions round\n  mellow functions text\n  mellow functions 'split a name'\n")
    .action(async (words: string[], args: { color: boolean }) => {
      if (!args.color) io.colours = false
      const { runFunctions } = await import('./functions.js')
      finish(runFunctions(words.join(' '), io))
    })
}
