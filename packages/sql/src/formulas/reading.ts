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
  /** What every row has to meet, since others have no place in a workbook; null where none are such. */
  readonly mustMeet?: string | null
  /** True for one that was calculated and whose last bits may be the engine's; false when left out. */
  readonly isApproximate?: boolean
}

/** Calculated columns whose values are kept in a table of their own. */
export interface KeptRows {
  /** The table that has them, as it is named in a statement. */
  readonly name: string
  /** What tells rows apart: as it is read from the rows `s`, and the name of the column that holds it there. */
  readonly key: readonly { readonly read: string; readonly of: string }[]
  readonly columns: ReadonlyMap<number, KeptColumn>
}

/** A calculated column as it is kept. */
export interface KeptColumn {
  readonly name: string
  /** The column that has the number of its error; null where it can have none. */
  readonly fault: string | null
  readonly size: Magnitude
  readonly isApproximate: boolean
}

/** Rows that stand for groups of the rows of another table. */
export interface GroupsOfRows {
  /** The other table. */
  readonly table: string
  /** What its rows are grouped by, and how the same is read from the rows `s`. */
  readonly keys: readonly { readonly of: Checked; readonly value: string; readonly fault: string | null }[]
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
  /** The same as it may be stored and looked up: of the type that the engine has it in, where that keeps what is different apart. */
  readonly storedKey: readonly string[]
  /** Lists of columns of which no two rows have the same. */
  readonly unique: readonly (readonly number[])[]
  /** How many rows there are. */
  readonly rowCount: number
  /** Values of expressions that stand beside the columns, by what they are (`identityOf`, `hopIdentity`). */
  readonly parts?: ReadonlyMap<string, SourceColumn>
  /** True for some of the rows only, for which nothing is gathered that they do not read. */
  readonly isPart?: boolean
  /** Columns that are read where they are kept, and not calculated. */
  readonly kept?: KeptRows
  /** Where its rows are groups: aggregates of the rows that these are of are over each. */
  readonly groups?: GroupsOfRows
  /** Columns that no formula can say. */
  readonly made?: ReadonlyMap<number, (table: TableReading) => Value>
}

/** What is the same for the same column at the end of the same links. */
export function hopIdentity(links: readonly number[], column: number): string {
  return `${links.join('.')} ${column}`
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
  /** The same table with all of its rows. */
  readonly everywhere: TableReading
  /** An expression whose values stand beside the columns; null for one whose do not. */
  stored(identity: string): Value | null
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
