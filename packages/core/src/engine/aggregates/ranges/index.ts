/**
 * Rows within bounds: a sorted index of their keys, totals over stretches of it, and which readers a changed key reaches.
 *
 * Start reading at `range-index.ts`.
 * @module
 */
export { IntervalTree } from './interval-tree.js'
export { type KeyInGroup, RangeIndex, type RangeTest } from './range-index.js'
export { needOf, RangeTotals } from './range-totals.js'
export { meets, type RangeOperator } from './sorted-rows.js'
