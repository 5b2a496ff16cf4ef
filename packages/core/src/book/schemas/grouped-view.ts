import * as v from 'valibot'
import { VALUE_TYPES, type ValueType } from '../../values/index.js'
import { type DescribedProperties, optionalProperties } from './column-properties.js'
import { Text } from './fields.js'

/** A key of a grouped view: a column, a path along links, or any formula over one row. */
export interface ViewLevel {
  /** What its column is called; the text of the key when left out. */
  readonly name?: string
  /** A column, a path along links, or any formula over one row. */
  readonly key: string
}

/** A column of a grouped view, and how it is shown: as what it is made of, where nothing is said. */
export interface ViewFormula extends Pick<DescribedProperties, 'unit' | 'display' | 'decimals' | 'heading'> {
  /** Its name in the view. */
  readonly name: string
  /** What gives its values. */
  readonly formula: string
}

/** A name for a value that is given when the view is made. */
export interface ViewParameter {
  /** Its name. */
  readonly name: string
  /** The type of its value. */
  readonly type: ValueType
  /** Its value, of dates and date-times as ISO 8601 text; asked for when it is left out. */
  readonly value?: string | number | boolean
}

/** In which order the groups of a level stand. */
export interface ViewOrder {
  /** Name of the level; the outermost when left out. */
  readonly level?: string
  /** Name of a column of the view. */
  readonly by: string
  /** From the largest. */
  readonly descending?: boolean
}

/** Which groups of a level are shown; the others become one line. */
export interface ViewTop {
  /** Name of the level; the outermost when left out. */
  readonly level?: string
  /** How many groups, in each group of the level around it. */
  readonly count: number
  /** Name of the column that decides, from the largest. */
  readonly by: string
  /** From the smallest instead. */
  readonly ascending?: boolean
}

/** Groups of the rows of a table, level inside level, with what is computed for each. */
export interface GroupedView {
  /** The table whose rows it is of. */
  readonly table: string
  /** A condition of the formula language; only rows where it is true are looked at. */
  readonly where?: string
  /** Names that the condition and the formulas may use, with their values. */
  readonly parameters?: readonly ViewParameter[]
  /** Keys, the outermost first; without any there is the whole alone. */
  readonly levels?: readonly ViewLevel[]
  /** A key whose values become columns: each tally and line once a value, and once over all. */
  readonly across?: ViewLevel
  /** Columns with a value on every row: formulas over one row of the table. */
  readonly columns?: readonly ViewFormula[]
  /** Columns with a value on every group and the whole: formulas of aggregates, as tallies are. */
  readonly tallies?: readonly ViewFormula[]
  /** Columns with a value on every line: formulas over the columns of the view, along `parent.`, `whole.`, `previous.`, `next.`. */
  readonly lines?: readonly ViewFormula[]
  /** Names of the columns in the order wanted; columns, tallies, lines when left out. */
  readonly shown?: readonly string[]
  /**
   * Whether the rows of each group are lines too, and whether a page and a document show them at once or when a group is
   * unfolded; they are shown when there are `columns`, unless said otherwise.
   */
  readonly details?: 'shown' | 'folded' | 'none'
  /** Whether tallies have a value on single rows too. */
  readonly tallyDetails?: boolean
  /** In which order the groups of each level stand; by their keys when left out. */
  readonly order?: readonly ViewOrder[]
  /** Which groups of a level are shown; the others of each level are one line. */
  readonly top?: readonly ViewTop[]
  /** A condition on the columns of the view; innermost groups where it is not true become part of one line. */
  readonly having?: string
  /** Most outermost groups given; the whole still covers all. */
  readonly limit?: number
  /** The innermost groups alone, without the whole and the column `level`. */
  readonly flat?: boolean
}

const count = v.pipe(v.number(), v.integer(), v.minValue(0))
const { unit, display, decimals, heading } = optionalProperties
const formulas = v.optional(v.array(v.strictObject({ name: Text, formula: Text, unit, display, decimals, heading })))
const flag = v.optional(v.boolean())

const level = v.strictObject({ name: v.optional(Text), key: Text })

const shape = v.strictObject({
  table: Text,
  where: v.optional(Text),
  parameters: v.optional(
    v.array(
      v.strictObject({
        name: Text,
        type: v.picklist(VALUE_TYPES),
        value: v.optional(v.union([Text, v.pipe(v.number(), v.finite()), v.boolean()])),
      }),
    ),
  ),
  levels: v.optional(v.array(level)),
  across: v.optional(level),
  columns: formulas,
  tallies: formulas,
  lines: formulas,
  shown: v.optional(v.array(Text)),
  details: v.optional(v.picklist(['shown', 'folded', 'none'])),
  tallyDetails: flag,
  order: v.optional(v.array(v.strictObject({ level: v.optional(Text), by: Text, descending: flag }))),
  top: v.optional(v.array(v.strictObject({ level: v.optional(Text), count, by: Text, ascending: flag }))),
  having: v.optional(Text),
  limit: v.optional(count),
  flat: flag,
})

/** What a grouped view looks like as JSON. */
export const groupedViewShape = shape as v.GenericSchema<GroupedView>
