/**
 * The verb `completion`: words offered in a shell.
 * @module
 */
import { Argument, Command } from 'commander'
import type { VerbTools } from '../verb.js'

/** The verb `completion`: what a shell needs to complete verbs, tables and columns. */
export function completionCommand({ io, finish, run, verbs }: VerbTools): Command {
  return new Command('completion')
    .description('Prints a script that has a shell complete verbs, files, and the tables and columns of the workbook named.')
    .addArgument(
      new Argument('<shell>', 'the shell; words prints what a workbook has to offer, options what a verb takes').choices([
        'bash',
        'zsh',
        'fish',
        'words',
        'options',
      ]),
    )
    .argument('[name]', 'for words: the workbook; for options: the verb')
    .addHelpText(
      'after',
      '\nExamples:\n  source <(mellow completion bash)\n  mellow completion fish > ~/.config/fish/completions/mellow.fish\n',
    )
    .action(async (shell: string, book: string | undefined) => {
      finish(await (await import('./completion.js')).runCompletion(shell, book, { io, finish, run, verbs }))
    })
}
