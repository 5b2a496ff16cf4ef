import { type Command, Option } from 'commander'
import { collect } from './change-options.js'

/** A definition with its place among all that were typed, whatever their option. */
export interface PlacedText {
  readonly place: number
  readonly text: string
}

/** Options that put rows into groups, as the command line gives them. */
export interface ViewArguments {
  readonly where?: string
  readonly order: readonly string[]
  readonly group: readonly string[]
  readonly column: readonly PlacedText[]
  readonly tally: readonly PlacedText[]
  readonly line: readonly PlacedText[]
  readonly across?: string
  readonly details?: 'shown' | 'folded' | 'none'
  readonly fold?: string
  readonly tallyDetails?: boolean
  readonly top: readonly string[]
  readonly having?: string
  readonly flat?: boolean
  readonly parameter: readonly string[]
  readonly display: readonly string[]
}

/** Adds the options that put rows into groups. */
export function addViewOptions(command: Command): Command {
  let count = 0
  const place = (text: string, before: readonly PlacedText[]): PlacedText[] => [...before, { place: count++, text }]
  return command
    .option(
      '--group <keys>',
      "group the rows by columns, links or formulas, the outermost first, such as 'site = hive.apiary, forage'; may be repeated",
      collect,
      [],
    )
    .option(
      '--column <definition>',
      "in groups: a column with a value on each row, such as honey_kg or 'kg = honey_kg'; may be repeated",
      place,
      [],
    )
    .option(
      '--tally <definition>',
      "a total of each group and of the whole, such as 'total = sum(honey_kg)'; may be repeated",
      place,
      [],
    )
    .option(
      '--line <definition>',
      "a column made from the others, such as 'part = total per parent.total'; whole., previous. and next. too; may be repeated",
      place,
      [],
    )
    .option('--across <key>', `columns for each value of a key, such as "month = text(taken, 'yyyy-MM')"`)
    .addOption(
      new Option('--details <how>', 'whether the rows of each group are lines too; with --column they are').choices([
        'shown',
        'folded',
        'none',
      ]),
    )
    .option('--tally-details', 'tallies on single rows too')
    .option(
      '--top <groups>',
      "only so many groups, such as '5 by total at site'; the others become one line; may be repeated",
      collect,
      [],
    )
    .option('--having <condition>', 'only innermost groups where this is true; the others become one line')
    .option(
      '--parameter <definition>',
      "in groups: a name for a value, such as 'season number = 2026'; may be repeated",
      collect,
      [],
    )
    .option(
      '--fold <level>',
      'fold what is under the groups of a level, by its name or number; of an outline, rows that stand deeper than so many levels',
    )
    .option(
      '--display <column: format>',
      "in groups: how a column is shown, such as 'part: percent'; may be repeated",
      collect,
      [],
    )
    .option('--flat', 'the innermost groups alone, without the whole and the column level')
}
