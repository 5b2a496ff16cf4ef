import { Command, Option } from 'commander'
import { addReadingOptions, addSurroundingOptions } from '../../options/index.js'
import type { VerbTools } from '../verb.js'
import type { ExplainArguments } from './explain.js'

/** The verb `explain`: a formula in plain English. */
export function explainCommand({ io, finish }: VerbTools): Command {
  const command = new Command('explain')
    .description('Says in plain English what a formula does. With tables its names are checked too; the first is its own.')
    .argument('<formula>', "a formula, or a definition 'name = formula'; or a workbook, with a column of it")
    .argument('[address]', 'table.column of the workbook')
    .option(
      '--with <table=file>',
      'a table that the formula may read; may be repeated, the first is the table of the formula',
      (value: string, before: readonly string[]) => [...before, value],
      [],
    )
    .option('--strict', 'refuse on warnings too')
    .addOption(new Option('--findings <format>', 'findings as JSON on standard error, and nothing else there').choices(['json']))
    .option('--no-color', 'no colours')
  addSurroundingOptions(addReadingOptions(command))
  command.addHelpText(
    'after',
    `
Examples:
  mellow explain '100 * mites per bees_sampled'
  mellow explain "case when moisture < 18 then 'good' when moisture < 20 then 'fair' else 'wet' end" --with batches=batches.csv
  mellow explain honey inspections.infestation
  mellow explain 'count(every weather where day > this.last_seen)' --with hives=hives.csv --with weather=weather.csv
`,
  )
  return command.action(async (formula: string, address: string | undefined, args: ExplainArguments) => {
    if (!args.color) io.colours = false
    if (address !== undefined) {
      const { runExplainColumn } = await import('./understand.js')
      return finish(await runExplainColumn(formula, address, args, io))
    }
    const { runExplain } = await import('./explain.js')
    finish(await runExplain(formula, args, io))
  })
}
