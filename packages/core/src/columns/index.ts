/**
 * Columns in storage: blocks of values with status bytes, the rows of a table, and selections of rows within a block.
 * In come cells and evaluated blocks, out go cells, changed rows and counts. Start reading at `vectors.ts`.
 * @module
 */

export type { ColumnHead, StoredCells, StoredChunk } from './block-list.js'
export { type Cell, type CellValue, writeCellValue } from './cell.js'
export { Column } from './column.js'
export { columnOfCells } from './column-of-cells.js'
export type { NumberStatistics } from './column-statistics.js'
export type { ReadonlyColumn } from './readonly-column.js'
export { RowSet, type RowsSnapshot } from './row-set.js'
export { isFullBlock, rowsMarked, type Selection, selectRows, wholeBlock } from './selection.js'
export { scratch } from './simd/index.js'
export type { SlotIds } from './slot-ids.js'
export { type Summary, summarise } from './summary.js'
export type { EncodedTexts } from './text-dictionary.js'
export {
  BLOCK_MASK,
  BLOCK_ROWS,
  BLOCK_SHIFT,
  type BooleanVector,
  makeVector,
  type NumberValues,
  type NumberVector,
  type Vector,
} from './vectors.js'
