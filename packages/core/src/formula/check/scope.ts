import type { ValueType } from '../../values/index.js'

/** Identity of a column in its workbook; never reused. */
export type ColumnId = number & { readonly brand: 'ColumnId' }

/** A column as a formula sees it. */
export interface ScopeColumn {
  readonly id: ColumnId
  readonly name: string
  /** Null for a column without values and without a declared type. */
  readonly type: ValueType | null
  readonly mayBeBlank: boolean
  readonly mayFail: boolean
}

/** The names that a formula of one table can use. */
export interface Scope {
  /** Name of the table, for messages. */
  readonly table: string
  /** The column of this name, in any case. */
  column(name: string): ScopeColumn | undefined
  /** All column names, for the nearest one. */
  columnNames(): Iterable<string>
  /** Other tables that have a column of this name. */
  tablesWithColumn(name: string): readonly string[]
}
