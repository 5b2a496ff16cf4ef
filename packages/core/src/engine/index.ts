/**
 * Recalculation: who depends on whom, which rows are touched, and running plans over just those. In come touched rows and
 * columns, out go the cells computed and changed. Start reading at `engine.ts`, then `graph.ts`.
 * @module
 */

export { MOST_PAIRS, PAIRS_A_SECOND } from './aggregates/index.js'
export { cellAt, sameCell } from './cells.js'
export { DirtyRows } from './dirty-rows.js'
export { type ComputedColumn, Engine, isLagOf, type RingDefinition } from './engine.js'
export { DependencyGraph } from './graph.js'
export type { LinkWatch } from './groups/index.js'
export type { LinkParts, OverRows } from './lowering.js'
export type { IndexMemory } from './node.js'
export type { CalculationMode, ColumnOutcome } from './recalculation.js'
export { type RowsByBlock, rowCountOf, rowsByBlock, slotsOf } from './rows-by-block.js'
export { TableStore } from './table-store.js'
export { TooMuchText } from './text-budget.js'
export { WatchMarks } from './watch-marks.js'
export type { Way } from './way.js'
