/**
 * Recalculation: which nodes depend on what, which rows are touched, and running plans over just those.
 *
 * In come touched rows and columns, out go the cells computed and changed. Rooms, top first: `lowering` gives a formula what it
 * reads from other rows, `nodes` are the columns calculated, `aggregates` and `groups` what many rows decide, `lowered-plans` formulas
 * ready to run, `propagation` how a change travels, `storage` the cells. Start reading at `engine.ts`.
 * @module
 */

export { asOuterFormula, MOST_PAIRS, PAIRS_A_SECOND, readsOuter, splitCondition } from './aggregates/index.js'
export { Engine, isLagOf } from './engine.js'
export { GroupedRows } from './grouped-rows.js'
export { LinkWatch } from './groups/index.js'
export { LineSheet } from './line-sheet.js'
export type { AccessPath } from './lowered-plans/index.js'
export type { OverRows } from './lowering/index.js'
export { TooMuchText, WatchMarks } from './nodes/index.js'
export { type CalculationMode, type ColumnOutcome, DirtyRows, type IndexMemory } from './propagation/index.js'
export { cellAt, putCell, type RowsByBlock, rowCountOf, rowsByBlock, sameCell, slotsOf, TableStore } from './storage/index.js'
export type { Touched } from './touched-groups.js'
