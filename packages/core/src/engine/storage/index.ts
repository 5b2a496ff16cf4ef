/**
 * The cells of a table by slot, and sets of its rows by block.
 *
 * In come rows and typed storage, out go cells and lists of rows. Start reading at `table-store.ts`.
 * @module
 */

export { cellAt, cellOf, compareKeys, compareValues, copyCell, putCell, sameCell } from './cells.js'
export { everyRowOf, liveIn, liveOf } from './live-rows.js'
export { type RowsByBlock, rowCountOf, rowsByBlock, slotsOf, uniteRows, uniteSelections } from './rows-by-block.js'
export { type GroupedSlots, type SortKey, sortInGroups, sortRows } from './sort-rows.js'
export { TableStore } from './table-store.js'
