/**
 * What the operations of one call share: what they touch, how they are undone, and the formulas that are to be bound.
 *
 * In come definitions in any order, out go bound formulas and what has become of cells. Start reading at `transaction.ts`, then
 * `bind.ts`.
 * @module
 */

export { bindFormulas, isSamePlan } from './bind.js'
export {
  type ChangeSet,
  type ColumnCells,
  type ColumnUnit,
  columnCells,
  type InsertedRows,
  idsOf,
  insertedRows,
} from './change-set.js'
export { changesDefinitions } from './changes-definitions.js'
export { RecalculatedCells } from './recalculated-cells.js'
export { ringLayout } from './rings.js'
export { stampsDue } from './stamping.js'
export { type Caller, storageOf, Transaction } from './transaction.js'
