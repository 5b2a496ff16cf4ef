/**
 * Functions of many rows: results kept by group, by range, or found by looking at rows one after the other.
 *
 * In come groups and columns, out goes a result a group or a row. Start reading at `conditions.ts`, then `incremental/aggregate-node.ts`.
 * @module
 */

export { asOuterFormula, readsOuter, splitCondition } from './conditions.js'
export { type AggregateCall, AggregateNode } from './incremental/index.js'
export { IntervalTree, needOf, RangeIndex, RangeTotals } from './ranges/index.js'
export {
  CandidateRows,
  type Candidates,
  lastTarget,
  linkFault,
  MOST_PAIRS,
  NestedLoopNode,
  NestedLoopScan,
  PAIRS_A_SECOND,
} from './scan/index.js'
