/**
 * The verb `demo`: the tables of the made-up co-operative, and a walk through them.
 * @module
 */
import { Command } from 'commander'
import type { VerbTools } from '../verb.js'

/** The verb `demo`: the demo tables and a walk through them. */
export function demoCommand({ io, finish, run }: VerbTools): Command {
  return new Command('demo')
    .description('Writes the tables of Thistle & Comb, a made-up honey co-operative, and shows on them how the tool is used.')
    .argument('[folder]', 'where the tables go', 'thistle-and-comb')
    .option('--seed <n>', 'seed of the made-up data')
    .option('--no-color', 'no colours')
    .addHelpText('after', '\nExample:\n  mellow demo honey\n')
    .action(async (folder: string, args: { seed?: string; color: boolean }) => {
      if (!args.color) io.colours = false
      const { runDemo } = await import('./demo.js')
      finish(await runDemo(folder, args.seed, io, run))
    })
}
