/**
 * The columns that are calculated: row by row, along an order of rows, or in a ring that reads its own earlier rows.
 *
 * In come the rows that a pass touches, out go cells written. Start reading at `row-column.ts`.
 * @module
 */
export { OrderedNode } from './ordered-column.js'
export { RingColumn, RingLagInput, RingNode, RingOrder, type RingParts } from './ring-column.js'
export { RowColumn } from './row-column.js'
export { TooMuchText } from './text-budget.js'
export { WatchMarks } from './watch-marks.js'
