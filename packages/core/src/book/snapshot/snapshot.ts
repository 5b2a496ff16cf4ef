import type { ColumnHead, RowsSnapshot, StoredCells, StoredChunk } from '../../columns/index.js'
import type { CalculationMode } from '../../engine/index.js'
import type { Finding } from '../../findings/index.js'
import type { Surroundings, ValueType } from '../../values/index.js'
import type { Acceptance } from '../model/index.js'
import type { TableSpec } from '../operations/index.js'
import type {
  JournaledAddLink,
  JournaledColumn,
  JournaledSetRule,
  JsonValue,
  SetChart,
  SetFunction,
  SetReport,
} from '../schemas/index.js'

/** A column, named value or tally as a file keeps it, without its cells. */
export interface ColumnSnapshot {
  readonly spec: JournaledColumn
  /** The type it has, whether declared or found. */
  readonly type: ValueType | null
  readonly declared: boolean
  /** Null for a column that has no type yet, and so no cells. */
  readonly head: ColumnHead | null
  /** How many rows are marked for each watched place of its formula. */
  readonly marks: readonly number[]
  /** Slots whose cell is yet to be computed. */
  readonly stale: readonly number[]
}

/** A table as a file keeps it, without its cells. */
export interface TableSnapshot {
  readonly name: string
  readonly properties: TableSpec
  readonly rows: Omit<RowsSnapshot, 'order'>
  /** True when rows stand in another order than they came in; the order is kept beside. */
  readonly isReordered: boolean
  readonly columns: readonly ColumnSnapshot[]
  readonly tallies: readonly ColumnSnapshot[]
  readonly rules: readonly (ColumnSnapshot & { readonly rule: JournaledSetRule })[]
  readonly links: readonly JournaledAddLink[]
}

/** A workbook as a file keeps it, without its cells: plain JSON. */
export interface BookSnapshot {
  readonly revision: number
  readonly mode: CalculationMode
  readonly surroundings: Surroundings
  readonly nextColumnId: number
  readonly tables: readonly TableSnapshot[]
  readonly values: readonly ColumnSnapshot[]
  readonly acceptances: readonly Acceptance[]
  /** The functions of the workbook, in their order; none in files of versions before them. */
  readonly functions?: readonly SetFunction[]
  /** The reports, in their order; none in files of versions before them. */
  readonly reports?: readonly SetReport[]
  /** The charts, in their order; none in files of versions before them. */
  readonly charts?: readonly SetChart[]
  /** What the program around the workbook noted, by name. */
  readonly metadata: readonly (readonly [name: string, value: JsonValue])[]
  /** What was last said of each column, by id. */
  readonly findings: readonly (readonly [column: number, findings: readonly Finding[]])[]
}

/** The cells of a workbook as a file keeps them, each part read when it is first needed. */
export interface SnapshotCells {
  /** Cells of a column, by id. */
  cells(column: number): StoredCells
  /** Marks of a block of a calculated column; undefined where none are set. */
  marks(column: number, block: number): Uint8Array | undefined
  /** Slots of a table in row order, by its place among the tables. */
  order(table: number): Int32Array
}

/** What has changed in the cells of a column since it was last written, and what goes with them. */
export interface UnsavedColumn {
  readonly column: number
  /** True where all its cells, or marks, take the place of what was written of a column of this id. */
  readonly replacesCells: boolean
  readonly replacesMarks: boolean
  readonly chunks: readonly { readonly index: number; readonly chunk: StoredChunk }[]
  readonly side: Pick<StoredCells, 'texts' | 'misfits'>
  readonly marks: readonly (readonly [block: number, marks: Uint8Array])[]
}

/** A workbook as it is to be written. */
export interface TakenSnapshot {
  readonly snapshot: BookSnapshot
  readonly unsaved: readonly UnsavedColumn[]
  /** Ids of all columns with cells; parts of others can go. */
  readonly columns: ReadonlySet<number>
  /** By place among the tables, the slots in row order, where it is not the order they came in. */
  readonly orders: ReadonlyMap<number, Int32Array>
  /** To be called once all of it is written. */
  markSaved(): void
}
