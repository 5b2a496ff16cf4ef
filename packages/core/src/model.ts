/**
 * What a workbook defines: its formulas as typed expressions with their names resolved, for packages that have them calculated
 * by something else. It follows what is checked inside, so it may change with any minor version.
 * @module
 */

export {
  type DefinedColumn,
  type DefinedKey,
  type DefinedLine,
  type DefinedLink,
  type DefinedReport,
  type DefinedRing,
  type DefinedRule,
  type DefinedTable,
  type DefinedView,
  type Definitions,
  definitionsOf,
  NEIGHBOURS,
} from './book/definitions.js'
export type { AttachedColumn, DatabaseSource } from './book/index.js'
export { asOuterFormula, readsOuter, splitCondition } from './engine/index.js'
export {
  type Checked,
  type CheckedOrderKey,
  type CheckedRows,
  type ColumnId,
  type ExpressionType,
  identityOf,
  type LinkId,
  mapParts,
  type Operator,
  partsOf,
  type RowsRead,
  somePart,
  withoutSteps,
} from './formula/index.js'
export type { ExactDecimal } from './values/index.js'
