/**
 * How a change travels: which nodes depend on what was touched, in which order, and which rows of each are computed.
 *
 * In come dirty rows, out go cells computed, changed and stale. Start reading at `recalculation.ts`, then `node.ts`.
 * @module
 */

export { CellsOfAll, ComputedCells } from './computed-cells.js'
export { DeferrableRows } from './deferrable-rows.js'
export { DependencyGraph } from './dependency-graph.js'
export { DirtyRows, TABLE_END } from './dirty-rows.js'
export type { EngineNode, IndexMemory } from './node.js'
export { CLOCK_NODE, type NodeId } from './node-id.js'
export { type Hold, NodeRegistry } from './node-registry.js'
export { latestPass, PropagationPass } from './propagation-pass.js'
export { type CalculationMode, type ColumnOutcome, Recalculation } from './recalculation.js'
