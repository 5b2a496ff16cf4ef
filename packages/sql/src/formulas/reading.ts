import type { ValueType } from 'mellow-abacus'
import type { Checked, CheckedRows, DefinedColumn, DefinedLink, DefinedTable } from 'mellow-abacus/model'
import type { TableRows, Term } from '../terms/index.js'
import type { Magnitude, Value, Writing } from '../values/index.js'

/** A column that is read from a table of the engine. */
export interface SourceColumn {
  /** How it is read, from rows called `s`. */
  readonly value: string
  /** How the number of its error is read; null where it has none. */
  readonly fault: string | null
  /** True where every row has a value. */
  readonly isFull: boolean
  /** What is known of its numbers. */
  readonly size: Magnitude
  /** How a view shows it, where that is not what formulas read. */
  readonly shown: string | null
}

/** Where the rows of a table are. */
export interface SourceOfTable {
  /** What stands after `from`, under the name `s`. */
  readonly from: string
  readonly columns: ReadonlyMap<number, SourceColumn>
  /** Columns without a formula that are not there, with the reason. */
  readonly lacks: ReadonlyMap<number, string>
  /** What tells its rows apart and is their order; empty where nothing does. */
  readonly rowKey: readonly string[]
  /** Lists of columns of which no two rows have the same. */
  readonly unique: readonly (readonly number[])[]
  /** How many rows there are. */
  readonly rowCount: number
}

/** What the names and calls of a formula are in the rows it is written for. */
export interface Reading {
  /** A column of the row. */
  column(id: number): Value
  /** What an expression is at the row that links lead to. */
  follow(links: readonly number[], read: Checked): Value
  /** A named value or a tally. */
  single(id: number): Value
  /** What an expression is at the row that a function of several rows is calculated for. */
  outer(inner: Checked): Value
  /** The days that rows hold, as a list. */
  days(rows: CheckedRows): Term
  /** A function of several rows. */
  overRows(node: Checked & { kind: 'over-rows' }): Value
}

/** A table, as its formulas read it. */
export interface TableReading extends Reading {
  readonly definition: DefinedTable
  readonly rows: TableRows
  readonly source: SourceOfTable
  readonly model: ModelReading
  /**
   * What tells the rows apart, in their order.
   *
   * @throws NoForm where nothing does
   */
  readonly rowKey: readonly Term[]
  /** True for a column that has a value in every row, as its engine knows. */
  isFull(id: number): boolean
  /** A link of the table. */
  link(id: number): DefinedLink
  /** A value of the table that links lead to, at the row they lead to. */
  along(links: readonly number[], valueAt: (target: TableReading) => Value): Value
  /** An expression as a column that has no name. */
  hidden(node: Checked, wanted?: ValueType): Value
}

/** All tables, as formulas read them. */
export interface ModelReading {
  readonly writing: Writing
  /** What a formula of a column gives, as values of the column's type. */
  ofColumn(column: DefinedColumn, reading: Reading): Value
  /** A table by its name. */
  table(name: string): TableReading
  /** A term as one of some rows, where it is the same everywhere. */
  inRows(term: Term, rows: TableRows): Term
  /** A number that no other part of the model has. */
  nextNumber(): number
  /** A name for what has a long one, the same each time. */
  shortName(long: string): string
}
