/**
 * Verbs that look: rows, lists, profiles, findings with their fixes, explanations, exports.
 * @module
 */

import { WRITABLE_FORMATS } from '@mellow-abacus/files'
import { Argument, Command, InvalidArgumentError, Option } from 'commander'
import {
  addChangeOptions,
  addLookOptions,
  addViewOptions,
  type ChangeArguments,
  collect,
  DRAWING_FORMATS,
} from '../../options/index.js'
import type { Verb, VerbTools } from '../verb.js'
import type { ChartArguments } from './chart.js'
import { explainCommand } from './explain-command.js'
import type { FitArguments } from './fit.js'
import type { ProfileArguments } from './profile.js'
import type { ReportArguments } from './report.js'
import type { RowsArguments, ShowArguments } from './rows-arguments.js'
import type { WhyArguments } from './understand.js'

const toOption = (formats: readonly string[]): Option =>
  new Option('--to <format>', 'format of the output; table on a terminal, else csv').choices([...formats])

function addRowOptions(command: Command): Command {
  return command
    .option('--where <condition>', 'the rows where this is true')
    .option(
      '--order <keys>',
      "sort, such as 'infestation desc, hive'; in groups 'total desc at site'; may be repeated",
      collect,
      [],
    )
    .option('--columns <names>', 'these columns, in this order; hidden ones only when named here')
    .option('--row-numbers', 'in files too, a first column row with the number of each row')
}

function show({ io, finish }: VerbTools): Command {
  const command = new Command('show')
    .description('Shows rows of a table, or groups of them with totals.')
    .argument('<book>')
    .argument('[table]', 'may be left off where there is one only')
    .option('--limit <n>', 'at most so many rows')
    .option('--exact', 'show numbers with all their digits; in files they always have them')
    .addOption(toOption(['table', ...WRITABLE_FORMATS]))
  addChangeOptions(addViewOptions(addRowOptions(command)).option('--keep <name>', 'keep the groups as a report'))
  command.addHelpText(
    'after',
    "\nExamples:\n  mellow show honey inspections --order 'infestation desc' --limit 5\n  mellow show honey harvests --group 'site = hive.yard.name, forage' --tally 'total = sum(honey_kg)' --line 'part = total per parent.total' --keep by_site\n",
  )
  return command.action(async (book: string, table: string | undefined, args: ShowArguments) => {
    finish(await (await import('./show.js')).runShow(book, table, args, io))
  })
}

function exportRows({ io, finish }: VerbTools): Command {
  const command = new Command('export')
    .description(
      'Writes a table to a file, which is replaced in one step; all tables to an XLSX file, as sheets, or to a bundle (.zip): readable definitions and CSV.',
    )
    .argument('<book>')
    .argument('[table]', 'may be left off where there is one only, and for XLSX and bundles')
    .requiredOption('-o, --output <file>', 'the file; its ending says the format')
    .addOption(toOption(WRITABLE_FORMATS))
    .option('--neutralize', 'an apostrophe before texts of CSV and TSV that a program could take for formulas')
    .option('--strict', 'refuse when the format cannot hold everything')
  addLookOptions(addRowOptions(command))
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow export honey inspections -o inspections.csv\n  mellow export honey -o honey.xlsx\n  mellow export honey -o honey.zip\n  mellow export honey hives -o hives.parquet\n',
  )
  return command.action(async (book: string, table: string | undefined, args: RowsArguments) => {
    finish(await (await import('./show.js')).runExport(book, table, args, io))
  })
}

const KINDS = ['table', 'column', 'link', 'tally', 'rule', 'value', 'function', 'report', 'chart']

/** A kind, also where several are said: `columns`, `tallies`. */
function kindOf(text: string): string {
  const kind = text.replace(/ies$/, 'y').replace(/s$/, '')
  if (KINDS.includes(kind)) return kind
  throw new InvalidArgumentError(`There are ${KINDS.join(', ')}.`)
}

function list({ io, finish }: VerbTools): Command {
  const command = new Command('list')
    .description(
      'Lists what is defined: tables, columns, links, tallies, rules, values, functions, reports and charts, with type, unit, formula, bytes and findings.',
    )
    .argument('<book>')
    .addArgument(new Argument('[kind]', 'only these').choices(KINDS).argParser(kindOf))
    .addOption(toOption(['table', ...WRITABLE_FORMATS]))
  addLookOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow list honey column\n')
  return command.action(async (book: string, kind: string | undefined, args: RowsArguments) => {
    finish(await (await import('./list-book.js')).runList(book, kind, args, io))
  })
}

function groups({ io, finish }: VerbTools): Command {
  const command = new Command('groups')
    .description('Lists the groups of readers that columns are hidden from, with the columns that do not exist for them.')
    .argument('<book>')
    .addOption(toOption(['table', ...WRITABLE_FORMATS]))
  addLookOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow groups honey\n')
  return command.action(async (book: string, args: RowsArguments) => {
    finish(await (await import('./groups.js')).runGroups(book, args, io))
  })
}

function profile({ io, finish }: VerbTools): Command {
  const command = new Command('profile')
    .description('Tells what a column holds: counts, extremes, different values and the commonest.')
    .argument('<book>')
    .argument('<address>', 'table.column')
    .option(
      '-o, --output <file>',
      'write to a file, which is replaced in one step; .svg and .png are drawings of how often values occur',
    )
    .option('--dark', 'a drawing for dark surroundings')
    .addOption(toOption(['table', ...WRITABLE_FORMATS, 'svg', 'png']))
  addLookOptions(command)
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow profile honey inspections.mites\n  mellow profile honey inspections.mites -o mites.svg\n',
  )
  return command.action(async (book: string, address: string, args: ProfileArguments) => {
    finish(await (await import('./profile.js')).runProfile(book, address, args, io))
  })
}

function check({ io, finish }: VerbTools): Command {
  const command = new Command('check')
    .description('Lists all findings, numbered, with their fixes. Exit code 1 when one of them is an error.')
    .argument('<book>')
    .option('--strict', 'exit code 1 on warnings too')
  addLookOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow check honey\n')
  return command.action(async (book: string, args: ChangeArguments) => {
    finish(await (await import('./check.js')).runCheck(book, args, io))
  })
}

function fix({ io, finish }: VerbTools): Command {
  const command = new Command('fix')
    .description('Applies the first fix of a finding.')
    .argument('<book>')
    .argument('<n>', 'its number in mellow check')
  addChangeOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow fix honey 2 --preview\n')
  return command.action(async (book: string, number: string, args: ChangeArguments) => {
    finish(await (await import('./check.js')).runFix(book, number, args, io))
  })
}

function accept({ io, finish }: VerbTools): Command {
  const command = new Command('accept')
    .description('Accepts a finding, with a reason: it is set aside until the rows behind it change.')
    .argument('<book>')
    .argument('<n>', 'its number in mellow check')
    .requiredOption('--because <reason>', 'why it is as it should be')
  addChangeOptions(command)
  command.addHelpText('after', "\nExample:\n  mellow accept honey 2 --because 'counted by hand'\n")
  return command.action(async (book: string, number: string, args: ChangeArguments & { because: string }) => {
    finish(await (await import('./check.js')).runAccept(book, number, args, io))
  })
}

function why({ io, finish }: VerbTools): Command {
  const command = new Command('why')
    .description(
      'Tells where a value comes from, back to source cells; with --since or --between, which edits and rows moved it from one revision to another.',
    )
    .argument('<book>')
    .argument('<address>', 'table.column, value:name, tally:table.name, or report:name.column for what moved it')
    .argument('[row]', 'its number, id:12 or label=text; of a report the keys of a group, the outermost first')
    .option('--since <revision>', 'what moved it after this revision, step by step and row by row')
    .option('--between <revisions...>', 'two revisions: what moved it from the first to the second')
    .addOption(new Option('--to <format>', 'with --since and --between: as JSON').choices(['json']))
  addLookOptions(command)
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow why honey inspections.infestation 12\n  mellow why honey tally:harvests.total_kg --between 40 46\n  mellow why honey report:by_site.total "Heron Reach" --since 40\n',
  )
  return command.action(async (book: string, address: string, row: string | undefined, args: WhyArguments) => {
    finish(await (await import('./understand.js')).runWhy(book, address, row, args, io))
  })
}

function trace({ io, finish }: VerbTools): Command {
  const command = new Command('trace')
    .description('Tells what a column reads and what reads it, over all tables.')
    .argument('<book>')
    .argument('<address>', 'table.column, value:name or tally:table.name')
    .addOption(new Option('--to <format>', 'how it is written').choices(['text', 'json', 'mermaid']))
  addLookOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow trace honey inspections.infestation --to mermaid\n')
  return command.action(async (book: string, address: string, args: ChangeArguments & { to?: string }) => {
    finish(await (await import('./understand.js')).runTrace(book, address, args, io))
  })
}

function report({ io, finish }: VerbTools): Command {
  const command = new Command('report')
    .description('Shows a report: groups that were kept by mellow show --keep. Without a name it lists the reports.')
    .argument('<book>')
    .argument('[name]')
    .option('--with <name=value>', 'a value for a parameter, such as season=2025; may be repeated', collect, [])
    .option('--fold <level>', 'fold what is under the groups of a level, by its name or number')
    .option('--limit <n>', 'at most so many outermost groups')
    .option('--exact', 'show numbers with all their digits; in data files they always have them')
    .option('-o, --output <file>', 'write to a file, which is replaced in one step; its ending says the format')
    .option('--strict', 'refuse when the format cannot hold everything')
    .addOption(toOption(['table', ...WRITABLE_FORMATS]))
  addLookOptions(command)
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow report honey\n  mellow report honey by_site --with season=2025 --fold site\n  mellow report honey by_site -o by_site.html\n',
  )
  return command.action(async (book: string, name: string | undefined, args: ReportArguments) => {
    finish(await (await import('./report.js')).runReport(book, name, args, io))
  })
}

function chart({ io, finish }: VerbTools): Command {
  const command = new Command('chart')
    .description(
      'Draws rows of a table or the groups of a report, as SVG, PNG, a page or a Vega-Lite specification. A name alone draws what was kept; without a name it lists the charts.',
    )
    .argument('<book>')
    .argument('[name]')
    .option('--of <table>', 'the table whose rows are drawn, or the report whose groups are')
    .option('--where <condition>', 'of a table, the rows where this is true')
    .option('--level <name>', 'of a report, the level whose groups are drawn; the innermost unless given')
    .option('--x <formula>', 'what runs along; of a report the key of the level unless given')
    .option(
      '--line <series>',
      "drawn as lines: columns or formulas, such as 'kinetic, all = a + b'; may be repeated",
      collect,
      [],
    )
    .option('--point <series>', 'drawn as points; may be repeated', collect, [])
    .option('--bar <series>', 'drawn as bars; may be repeated', collect, [])
    .option('--area <series>', 'drawn as areas; may be repeated', collect, [])
    .option('--right <series>', 'whose axis stands on the right; may be repeated', collect, [])
    .option(
      '--series-color <name: color>',
      "such as 'kinetic: #0a6470'; the next of the palette unless given; may be repeated",
      collect,
      [],
    )
    .option('--order <series>', "order of the points, such as 'total desc' or 'x desc'; by x, or as the report, unless given")
    .option('--with-total', 'of a report, the whole beside its groups')
    .option(
      '--fit <series: degree>',
      "a curve through a series, such as 'height: 2' or, with given coefficients, 'height: -4.9, 0, 1.8'",
    )
    .option('--residuals', 'with --fit: what the curve leaves, below')
    .option('--title <text>', 'what stands above; made of the names unless given')
    .option('--x-title <text>', 'what stands at the axis below; name and unit unless given')
    .option('--left-title <text>', 'what stands at the axis on the left')
    .option('--right-title <text>', 'what stands at the axis on the right')
    .option('--no-legend', 'no legend, where there are several series')
    .option('--with <name=value>', 'a value for a parameter of the report; may be repeated', collect, [])
    .option('--width <pixels>', 'width within the axes')
    .option('--height <pixels>', 'height within the axes')
    .option('--dark', 'for dark surroundings')
    .option('--keep', 'keep it in the workbook under its name')
    .option('-o, --output <file>', 'write to a file, which is replaced in one step; its ending says the format')
    .addOption(new Option('--to <format>', 'format of the drawing; svg unless given').choices([...DRAWING_FORMATS]))
  addChangeOptions(command)
  command.addHelpText(
    'after',
    "\nExamples:\n  mellow chart honey frames --of harvests --x frames --point honey_kg --fit 'honey_kg: 1' -o frames.svg\n  mellow chart honey by_site --of by_site --bar total --keep -o by_site.png\n  mellow chart honey by_site -o by_site.html\n",
  )
  return command.action(async (book: string, name: string | undefined, args: ChartArguments) => {
    finish(await (await import('./chart.js')).runChart(book, name, args, io))
  })
}

function fit({ io, finish }: VerbTools): Command {
  const command = new Command('fit')
    .description(
      'Fits a polynomial to rows by least squares, or tries a curve: its equation, how well it fits, what was left out.',
    )
    .argument('<book>')
    .argument('<table>')
    .argument('<quantities>', "what is fitted and over what, such as 'height by time'")
    .option('--degree <n>', 'degree of the polynomial, 1 to 6; 1 unless given')
    .option('--coefficients <numbers>', "a curve to try, from the highest power, such as '-4.9, 0, 1.8'")
    .option('--where <condition>', 'the rows where this is true')
    .option('--define <name>', 'write the curve into the table, as a column that follows the data')
    .option('--residuals <name>', 'with --define: a column of what the curve leaves')
    .option('--exact', 'show numbers with all their digits; in files they always have them')
    .option('-o, --output <file>', 'write to a file, which is replaced in one step; its ending says the format')
    .addOption(toOption(['table', ...WRITABLE_FORMATS]))
  addChangeOptions(command)
  command.addHelpText(
    'after',
    "\nExamples:\n  mellow fit honey combs 'comb_cm2 by day' --degree 3\n  mellow fit honey combs 'comb_cm2 by day' --degree 3 --define curve --residuals rest\n",
  )
  return command.action(async (book: string, table: string, quantities: string, args: FitArguments) => {
    finish(await (await import('./fit.js')).runFit(book, table, quantities, args, io))
  })
}

/** The verbs that look at a workbook. */
export const INSPECT_COMMANDS: Readonly<Record<string, Awaited<ReturnType<Verb['load']>>>> = {
  show,
  report,
  chart,
  fit,
  export: exportRows,
  list,
  groups,
  profile,
  check,
  fix,
  accept,
  explain: explainCommand,
  why,
  trace,
}
