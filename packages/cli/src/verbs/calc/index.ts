/**
 * The verb `calc`: read a file, add calculated columns, write it.
 * @module
 */
import { WRITABLE_FORMATS } from '@mellow-abacus/files'
import { Command, Option } from 'commander'
import { addReadingOptions, addSurroundingOptions, addViewOptions, collect } from '../../options/index.js'
import type { VerbTools } from '../verb.js'
import type { CalcArguments } from './calc.js'

/** The verb `calc`: read a file, add calculated columns, write it. */
export function calcCommand({ io, finish }: VerbTools): Command {
  const command = new Command('calc')
    .description('Reads a file, adds calculated columns and writes it out. Definitions may come in any order.')
    .argument('<file>', 'the file to read; - is standard input')
    .argument('[definitions...]', "columns to add, each 'name = formula'")
    .option('--formulas <file>', 'read definitions from a file, one a line; may be repeated', collect, [])
    .option('--with <table=file>', 'another table that formulas may read; may be repeated', collect, [])
    .option('--link <link>', "a link between tables, such as 'hive -> hives.tag'; may be repeated", collect, [])
    .option('--value <definition>', "a named value, such as 'price = 4.5'; may be repeated", collect, [])
    .option('--where <condition>', 'keep the rows where a condition of the formula language is true')
    .option(
      '--order <keys>',
      "sort, such as 'infestation desc, hive'; in groups 'total desc at site'; may be repeated",
      collect,
      [],
    )
    .option('--columns <names>', 'the columns to write, in this order, separated by commas')
    .option('--limit <n>', 'at most so many rows')
    .option('--exact', 'show numbers with all their digits; in files they always have them')
    .option('-o, --output <file>', 'write to a file, which is replaced in one step')
    .addOption(
      new Option('--to <format>', 'format of the output; table on a terminal, else from the name of -o, else csv').choices([
        'table',
        ...WRITABLE_FORMATS,
        'svg',
        'png',
      ]),
    )
    .option(
      '--chart <parts>',
      "draw the rows, or with --group the groups, into the file of -o (.svg, .png, .html, .json), such as 'x: day, line: honey_kg, bees'",
    )
    .option('--replace', 'a definition may take the name of a column of the file; its own name then means that column')
    .option('--strict', 'refuse on warnings too')
    .addOption(new Option('--findings <format>', 'findings as JSON on standard error, and nothing else there').choices(['json']))
    .option('--no-color', 'no colours')
  addSurroundingOptions(addReadingOptions(addViewOptions(command)))
  command.addHelpText(
    'after',
    `
Examples:
  mellow calc inspections.csv 'infestation = 100 * mites per bees_sampled'
  mellow calc batches.csv "mark = join('-', site, forage, lot)" --where 'moisture > 18' --order 'moisture desc'
  mellow calc harvests.csv 'site = hive.apiary' --with hives=hives.csv --link 'hive -> hives.tag'
  mellow calc harvests.csv --group 'hive' --tally 'total = sum(honey_kg)' --order 'total desc'
  mellow calc harvests.csv --group forage --tally 'total = sum(honey_kg)' --chart 'bar: total' -o forage.svg
  mellow calc - 'wait = days_between(extracted, bottled)' --to json < batches.csv

A formula that needs quotes inside: use the other kind around it. All functions: mellow functions
`,
  )
  return command.action(async (file: string, definitions: string[], args: CalcArguments) => {
    if (!args.color) io.colours = false
    const { runCalc } = await import('./calc.js')
    finish(await runCalc(file, definitions, args, io))
  })
}
