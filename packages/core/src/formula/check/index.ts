/**
 * Tree to typed expression: names resolved to ids, types inferred, operators chosen, and everything wrong told as findings.
 * Start reading at `checked.ts`, then `check.ts`.
 * @module
 */

export { checkFormula, type FormulaTarget } from './check.js'
export type {
  Checked,
  CheckedFormula,
  CheckedLink,
  CheckedOrderKey,
  CheckedRows,
  Operator,
  OwnCall,
  RowsRead,
  Watch,
  WatchCode,
} from './checked.js'
export { clauseOf } from './clauses.js'
export type { ColumnUses } from './column-use.js'
export { CheckContext } from './context.js'
export { variesByRow } from './hints.js'
export type { ColumnId, LinkId } from './ids.js'
export { isKeywordPart } from './names.js'
export { ownForm, parameterForm, placeInFormula } from './own/index.js'
export { checkOwnFunction, type FunctionFacts } from './own-function.js'
export { columnsOfRowsRead, identityOf, mapParts, partsOf, somePart, withoutSteps } from './parts.js'
export { rowsReadBy } from './rows-read.js'
export type {
  BookScope,
  OwnFunction,
  OwnParameter,
  Scope,
  ScopeColumn,
  ScopeLink,
  ScopeValue,
} from './scope.js'
export { type ExpressionType, expressionType, typeWords } from './types.js'
