import { Argument, Command } from 'commander'
import type { VerbTools } from '../list.js'

/** The verb `completion`: what a shell needs to complete verbs, tables and columns. */
export function completionCommand({ io, finish, verbs }: VerbTools): Command {
  return new Command('completion')
    .description('Prints a script that has a shell complete verbs, files, and the tables and columns of the workbook named.')
    .addArgument(
      new Argument('<shell>', 'the shell; words prints what a workbook has to offer').choices(['bash', 'zsh', 'fish', 'words']),
    )
    .argument('[book]', 'for words: the workbook')
    .addHelpText(
      'after',
      '\nExamples:\n  source <(mellow completion bash)\n  mellow completion fish > ~/.config/fish/completions/mellow.fish\n',
    )
    .action(async (shell: string, book: string | undefined) => {
      finish(await (await import('./completion.js')).runCompletion(shell, book, verbs, io))
    })
}
