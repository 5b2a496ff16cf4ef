/**
 * Aggregates that look at candidate rows one after the other for each row that reads them.
 *
 * Start reading at `candidate-rows.ts`, then `nested-loop-node.ts`.
 * @module
 */
export { CandidateRows, type Candidates, lastTarget, linkFault } from './candidate-rows.js'
export { MOST_PAIRS, NestedLoopNode, PAIRS_A_SECOND } from './nested-loop-node.js'
export { NestedLoopScan } from './nested-loop-scan.js'
