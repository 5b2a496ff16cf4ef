import type { ValueType } from '../../values/index.js'
import type { QueryResult } from '../queries/index.js'

/** A key of a grouped view: a column, a path along links, or any formula over one row. */
export interface ViewLevel {
  /** What its column is called; the text of the key when left out. */
  readonly name?: string
  readonly key: string
}

/** A column of a grouped view. */
export interface ViewFormula {
  readonly name: string
  readonly formula: string
}

/** A name for a value that is given when the view is made. */
export interface ViewParameter {
  readonly name: string
  readonly type: ValueType
  /** Dates and date-times as ISO 8601 text. */
  readonly value?: string | number | boolean
}

/** In which order the groups of a level stand. */
export interface ViewOrder {
  /** Name of the level; the outermost when left out. */
  readonly level?: string
  /** Name of a column of the view. */
  readonly by: string
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
  /** Whether the rows of each group are lines too; they are when there are `columns`, unless said otherwise. */
  readonly details?: 'shown' | 'none'
  /** Whether tallies have a value on single rows too. */
  readonly tallyDetails?: boolean
  readonly order?: readonly ViewOrder[]
  readonly top?: readonly ViewTop[]
  /** A condition on the columns of the view; innermost groups where it is not true become part of one line. */
  readonly having?: string
  /** Most outermost groups given; the whole still covers all. */
  readonly limit?: number
  /** The innermost groups alone, without the whole and the column `level`. */
  readonly flat?: boolean
}

/** One line of a grouped view. */
export interface ViewLine {
  readonly kind: 'whole' | 'group' | 'others' | 'row'
  /** 0 for the whole, 1 for the outermost groups, one more for each level inside; rows stand one below the innermost. */
  readonly level: number
  /** How many rows are under it. */
  readonly rowCount: number
  /** Of the line for all groups that are not shown: how many they are. */
  readonly groupCount: number | null
  /** Of a row: its id, and its number, from 1. */
  readonly row: number | null
  readonly rowNumber: number | null
}

/** The lines of a grouped view: a group stands before its parts, the whole last. */
export interface GroupedResult extends QueryResult {
  /** Of each row of the result, what it stands for. */
  readonly lines: readonly ViewLine[]
  /** Names of the columns of the keys, the outermost first. */
  readonly levels: readonly string[]
  /** Names of the columns that are none of the view: `level` and `others`, where they are. */
  readonly ownColumns: readonly string[]
  readonly isFlat: boolean
  /** The parameters of the view with the values it was made with. */
  readonly parameters: readonly ViewParameter[]
  /** Rows of the table, and those of them that the condition keeps. */
  readonly rowCount: number
  readonly keptCount: number
}
