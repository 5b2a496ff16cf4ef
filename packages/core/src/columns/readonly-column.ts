import type { ValueType } from '../values/index.js'
import type { Cell, CellValue } from './cell.js'
import type { Vector } from './vectors.js'

/**
 * Cells of a column, to be read by slot: what a query gives, and what an insertion takes. It has the cells of one moment and
 * stays as it is whatever happens to the workbook later.
 */
export interface ReadonlyColumn {
  readonly type: ValueType
  /** How many cells hold a value. */
  readonly valueCount: number
  /** How many cells are blank. */
  readonly blankCount: number
  /** How many cells hold errors; of one status if given. */
  faultCount(status?: number): number
  /** The kept text of some misfit, as an example; undefined when there is none. */
  sampleMisfit(): string | undefined
  /** The status byte of a slot, as `Status` has them. */
  statusAt(slot: number): number
  /** What stands in a slot that holds a value: a number, also for dates (days or milliseconds since 1970-01-01) and booleans (0, 1), or a text. */
  valueAt(slot: number): number | string | undefined
  /** The value, blank or error of a slot. */
  read(slot: number): Cell
  /** Slots `index * BLOCK_ROWS` and following as arrays, to be read only; what is missing at the end is blank. */
  peek(index: number): Vector | undefined
  /** Bytes of its arrays and texts. */
  byteLength(): number
  /** The cells as operations carry them. */
  toJSON(): CellValue[]
}
