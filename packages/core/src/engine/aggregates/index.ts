/**
 * Functions of many rows: how their condition is taken apart, which rows are looked at for a row, and results kept by group.
 * In come groups and columns, out go results a group, or a row where rows are looked at one by one. Start reading at
 * `aggregate-node.ts`, then `conditions.ts`.
 * @module
 */
export { AggregateNode } from './aggregate-node.js'
export { CandidateRows, type Candidates, lastTarget, linkFault } from './candidate-rows.js'
export { asOuterFormula, readsOuter, splitCondition } from './conditions.js'
export { PairScan } from './pairs.js'
export { RangeIndex } from './range-index.js'
export { needOf, RangeTotals } from './range-totals.js'
export { ReaderBounds } from './reader-bounds.js'
export { MOST_PAIRS, PAIRS_A_SECOND, ScanNode } from './scan-node.js'
export type { AggregateCall } from './taken-rows.js'
