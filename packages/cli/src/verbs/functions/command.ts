import { Command } from 'commander'
import type { Io } from '../../terminal/io.js'

/** The verb `functions`: the reference of the formula language, searchable by purpose. */
export function functionsCommand(io: Io, finish: (exitCode: number) => void): Command {
  return new Command('functions')
    .summary('list and search the functions of formulas')
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
