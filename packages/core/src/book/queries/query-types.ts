import type { ReadonlyColumn } from '../../columns/index.js'
import type { ValueType } from '../../values/index.js'
import type { ColumnProperties, ShownValue } from '../model/index.js'

/** A key of an order. */
export interface OrderKey {
  readonly column: string
  readonly descending?: boolean
}

/** Which rows and columns of a table are wanted. */
export interface Query {
  readonly table: string
  /** A condition of the formula language; rows where it is true are kept. */
  readonly where?: string
  /** Keys, the first decides; or text like `infestation desc, hive`. Blanks come after values and errors last, both ways. */
  readonly order?: readonly OrderKey[] | string
  /** Names, in the order wanted; all that are not hidden when not given. */
  readonly columns?: readonly string[]
  readonly limit?: number
  /** Rows of the result that are left out before the first one; 0 when left out. */
  readonly offset?: number
  /** What stands for the `?` of the condition, in order, so that no value is taken for a part of the formula. */
  readonly parameters?: readonly QueryParameter[]
}

/** A value in place of a `?`: dates and date-times as ISO 8601 text that says so. */
export type QueryParameter = number | string | boolean | null | { readonly date: string } | { readonly datetime: string }

/** A column of a result. */
export interface QueryColumn {
  readonly name: string
  readonly type: ValueType | null
  readonly calculated: boolean
  /** What else is to be known of its cells: some are out of step, they may be typed over for a while, or write themselves. */
  readonly state: 'stale' | 'paused' | 'stamp' | null
  readonly unit: string | null
  /** How its values are shown, and the rest that is said about it. */
  readonly properties: ColumnProperties
  /** Its cells at the time of the query, to be read by slot; undefined when every cell is blank. */
  readonly storage: ReadonlyColumn | undefined
}

/** Rows found. */
export interface QueryResult {
  readonly columns: readonly QueryColumn[]
  /** How many rows there are before the limit. */
  readonly matched: number
  /** Storage slots of the rows, in order. */
  readonly slots: Int32Array
  /** Ids of the rows, in order. */
  ids(): number[]
  /** The cells, row by row. */
  rows(): ShownValue[][]
}
