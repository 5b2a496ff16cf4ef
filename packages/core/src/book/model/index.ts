/**
 * What is defined: tables, columns, links, tallies, rules and named values, and the names that formulas find in scope.
 *
 * In come definitions, out go the columns and cells they name. Start reading at `model.ts`, then `scope-of.ts`.
 * @module
 */

export { type Acceptance, acceptanceKey } from './acceptance.js'
export { type Addressed, type AddressedName, addressOf, findColumn, KIND_OF_ROLE } from './address.js'
export { cellText } from './cell-text.js'
export { fitText, readCellValue, type ShownValue, showCell, typeOfValue } from './cell-values.js'
export { ChartModel, plainName, seriesName } from './chart-model.js'
export {
  type ColumnFormula,
  ColumnModel,
  type ColumnProperties,
  formulaOf,
  type PausedFormula,
  type Stamp,
  shownUnit,
} from './column-model.js'
export { FunctionModel } from './function-model.js'
export { type KeptView, keptView } from './kept-view.js'
export { Model, type Owned } from './model.js'
export { orderKeyOf } from './order-key-of.js'
export { columnsRead, linksRead, tablesRead } from './references.js'
export { type CheckedView, ReportModel } from './report-model.js'
export { functionRenamingEdits, renamingEdits, rewriteFormula, tableRenamingEdits } from './rewrite-formula.js'
export { scopeOf, scopeOfFunctions } from './scope-of.js'
export { columnUnder, lookOf, shownAs } from './shown-like.js'
export type { LinkModel, RowsTable, TableModel, TableProperties, TableRole } from './table-model.js'
export {
  type AttachedColumn,
  type DatabaseSource,
  type FileSource,
  isSample,
  mapSource,
  type TableSource,
} from './table-source.js'
export { targetOf } from './target-of.js'
export {
  callsFunction,
  functionsWith,
  knownViews,
  namesColumn,
  usersOf,
  usersOfFunction,
  viewsReading,
  viewsWith,
  viewWords,
} from './users-of.js'
export { violationOf } from './violation-of.js'
