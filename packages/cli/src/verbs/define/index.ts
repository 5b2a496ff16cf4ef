/**
 * Verbs that define: calculated columns, values, links, tallies, rules, and properties of all of them.
 * @module
 */
import { Command, Option } from 'commander'
import { addChangeOptions, type ChangeArguments, collect } from '../../options/index.js'
import type { VerbTools } from '../verb.js'
import type { DefineArguments, RuleArguments } from './define.js'
import type { DescribeArguments } from './describe.js'
import type { SuggestArguments } from './suggest.js'

/** The verb `define`: calculated columns. */
export function defineCommand({ io, finish }: VerbTools): Command {
  const command = new Command('define')
    .description('Adds a calculated column, or gives one another formula. Without a definition it reads standard input.')
    .argument('<book>')
    .argument('<table>')
    .argument('[definitions...]', "columns, each 'name = formula'")
    .option('--formulas <file>', 'read definitions from a file, one a line; may be repeated', collect, [])
    .option('--before <column>', 'where it stands')
    .option('--after <column>', 'where it stands')
    .option('--type <type>', 'the type that its results must have')
  addChangeOptions(command)
  command.addHelpText(
    'after',
    "\nExamples:\n  mellow define honey inspections 'infestation = 100 * mites per bees_sampled'\n  mellow define honey inspections 'infestation = 100 * mites per bees_sampled' --preview\n",
  )
  return command.action(async (book: string, table: string, definitions: string[], args: DefineArguments) => {
    finish(await (await import('./define.js')).runDefine(book, table, definitions, args, io))
  })
}

/** The verb `suggest`: formulas from examples. */
export function suggestCommand({ io, finish }: VerbTools): Command {
  const command = new Command('suggest')
    .description(
      'Writes formulas for new columns from examples: what should come out in a few rows. With --define one of them is taken.',
    )
    .argument('<book>')
    .argument('<table>')
    .argument('<columns>', "names of the new columns, such as 'first, last'")
    .option('--from <columns>', 'what the formulas may be made of; all columns of the table unless given')
    .option(
      '--example <row: values>',
      "what is wanted in a row, such as '3: Ada, Byron'; several values as in CSV, nothing for a blank; may be repeated, up to 5 rows",
      collect,
      [],
    )
    .option('--most <n>', 'how many suggestions; 5 unless given')
    .option('--define <n>', 'define the new columns by the suggestion of this number')
    .addOption(new Option('--to <format>', 'how it is written').choices(['text', 'json']))
  addChangeOptions(command)
  command.addHelpText(
    'after',
    "\nExamples:\n  mellow suggest honey harvests month --from taken --example '1: 2026-05'\n  mellow suggest honey inspections per_hundred --from 'mites, bees_sampled' --example '1: 0.5' --example '3: 0.33' --define 1 --preview\n",
  )
  return command.action(async (book: string, table: string, columns: string, args: SuggestArguments) => {
    finish(await (await import('./suggest.js')).runSuggest(book, table, columns, args, io))
  })
}

/** The verb `column`: plain columns. */
export function columnCommand({ io, finish }: VerbTools): Command {
  const command = new Command('column')
    .description('Adds a column to be filled by hand.')
    .argument('<book>')
    .argument('<addresses...>', "columns, each table.column or 'table.column:type'; the word add before them may be left out")
  addChangeOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow column honey inspections.keeper:text\n')
  return command.action(async (book: string, words: string[], args: ChangeArguments) => {
    finish(await (await import('./define.js')).runColumn(book, words, args, io))
  })
}

/** The verb `describe`: properties of a column or a table. */
export function describeCommand({ io, finish }: VerbTools): Command {
  const command = new Command('describe')
    .description(
      'Gives columns, a table or the workbook other properties; without any it shows those there are. An empty text takes one away.',
    )
    .argument('<book>')
    .argument('[addresses...]', 'table.column, or a table; without any the workbook itself')
    .option('--type <type>', 'number, integer, text, boolean, date or datetime')
    .option('--unit <unit>', 'such as kg or km/h')
    .option('--symbol <symbol>', 'a short sign for it')
    .option('--display <format>', 'currency:EUR, percent, or a pattern of Unicode TR35 such as #,##0.0')
    .option('--decimals <n>', 'digits after the decimal mark that are shown')
    .option('--heading <text>', 'what stands over it')
    .option('--note <text>', 'what a reader should know')
    .option('--tag <name>', 'a tag, for formulas over #tag; +tag adds one, -tag takes one away; may be repeated', collect, [])
    .option('--choices <texts>', 'the texts it may hold, separated by commas')
    .option('--order-key <column>', 'the column whose values say in which order those of this one stand')
    .option('--fixed <yes|no>', 'whether only those who may define type over its cells')
    .option('--label <column>', 'of a table: the column that names a row')
    .option('--key <columns>', 'of a table: the columns by which rows are found when its file is read again')
    .option('--parent <column>', "of a table: the column that holds the key of a row's parent, for an outline")
    .option('--zone <zone>', 'of the workbook: the time zone for texts with an offset, such as Europe/Oslo')
    .option('--locale <tag>', 'of the workbook: the language of upper and lower case and of what is shown')
  addChangeOptions(command)
  command.addHelpText(
    'after',
    '\nExamples:\n  mellow describe honey harvests.honey_kg --unit kg --decimals 1\n  mellow describe honey hives.frames hives.supers --tag +size\n  mellow describe honey --zone Europe/Oslo\n',
  )
  return command.action(async (book: string, addresses: string[], args: DescribeArguments) => {
    finish(await (await import('./describe.js')).runDescribe(book, addresses, args, io))
  })
}

/** The verb `move`: the place of a column. */
export function moveCommand({ io, finish }: VerbTools): Command {
  const command = new Command('move')
    .description('Puts a column elsewhere among those of its table.')
    .argument('<book>')
    .argument('<address>', 'table.column')
    .option('--before <column>')
    .option('--after <column>')
  addChangeOptions(command)
  command.addHelpText('after', '\nExample:\n  mellow move honey inspections.infestation --after mites\n')
  return command.action(async (book: string, address: string, args: ChangeArguments & { before?: string; after?: string }) => {
    finish(await (await import('./define.js')).runMove(book, address, args, io))
  })
}

/** The verb `value`: named values. */
export function valueCommand({ io, finish }: VerbTools): Command {
  const command = new Command('value')
    .description('Sets a named value that formulas of every table can use.')
    .argument('<book>')
    .argument('<definition>', "'name = formula'")
  addChangeOptions(command)
  command.addHelpText('after', "\nExample:\n  mellow value honey 'feed_price = 1.35'\n")
  return command.action(async (book: string, definition: string, args: ChangeArguments) => {
    finish(await (await import('./define.js')).runValue(book, definition, args, io))
  })
}

/** The verb `function`: functions of the workbook. */
export function functionCommand({ io, finish }: VerbTools): Command {
  const command = new Command('function')
    .description(
      'Sets a function of the workbook that formulas of every table can call. It may name its parameters, other functions of the workbook and named values.',
    )
    .argument('<book>')
    .argument(
      '<definition>',
      "'name(parameter, parameter: type) = formula'; a type is found from the formula where none is given",
    )
    .option('--note <text>', 'what it is for, shown where formulas are written')
  addChangeOptions(command)
  command.addHelpText(
    'after',
    "\nExamples:\n  mellow function honey 'per_hundred(part, whole) = 100 * part per whole' --note 'As a percentage'\n  mellow define honey inspections 'infestation = per_hundred(mites, bees_sampled)'\n  mellow list honey functions\n  mellow rename honey function:per_hundred to percentage\n",
  )
  return command.action(async (book: string, definition: string, args: ChangeArguments & { note?: string }) => {
    finish(await (await import('./define.js')).runFunction(book, definition, args, io))
  })
}

/** The verb `link`: links between tables. */
export function linkCommand({ io, finish }: VerbTools): Command {
  const command = new Command('link')
    .description('Links each row of a table to the row of another that has the same key.')
    .argument('<book>')
    .argument('<link>', "'table.column -> table.key'")
    .option('--as <name>', 'what formulas follow it by; the first key column unless given')
  addChangeOptions(command)
  command.addHelpText('after', "\nExample:\n  mellow link honey 'hives.yard -> apiaries.code'\n")
  return command.action(async (book: string, link: string, args: ChangeArguments & { as?: string }) => {
    finish(await (await import('./define.js')).runLink(book, link, args, io))
  })
}

/** The verb `tally`: tallies of a table. */
export function tallyCommand({ io, finish }: VerbTools): Command {
  const command = new Command('tally')
    .description('Sets a tally: a named total of a table, kept once and used in totals lines, groups and formulas.')
    .argument('<book>')
    .argument('<table>')
    .argument('<definition>', "'name = formula'")
  addChangeOptions(command)
  command.addHelpText('after', "\nExample:\n  mellow tally honey harvests 'total_kg = sum(honey_kg)'\n")
  return command.action(async (book: string, table: string, definition: string, args: ChangeArguments) => {
    finish(await (await import('./define.js')).runTally(book, table, definition, args, io))
  })
}

/** The verb `rule`: conditions that rows are to meet. */
export function ruleCommand({ io, finish }: VerbTools): Command {
  const command = new Command('rule')
    .description(
      'Sets a rule: a condition that every row, or the totals of a table, are to meet. Rows that break it are findings.',
    )
    .argument('<book>')
    .argument('<table>')
    .argument('<definition>', "'name: condition'")
    .addOption(new Option('--severity <severity>', 'what breaking it is; a warning unless given').choices(['warning', 'hint']))
    .option('--note <text>', 'what to do about it, said with the finding')
    .option('--blank-is-wrong', 'a row where the condition is blank breaks the rule too')
  addChangeOptions(command)
  command.addHelpText(
    'after',
    "\nExamples:\n  mellow rule honey batches 'moist: moisture between 10 and 25' --note 'Measure it again.'\n  mellow rule honey harvests 'agrees: abs(harvests.total_kg - batches.total_kg) <= 0.5'\n",
  )
  return command.action(async (book: string, table: string, definition: string, args: RuleArguments) => {
    finish(await (await import('./define.js')).runRule(book, table, definition, args, io))
  })
}
