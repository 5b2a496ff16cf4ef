/**
 * Tree to typed expression: names resolved to ids, types inferred, operators chosen, and everything wrong told as findings.
 * Start reading at `checked.ts`, then `check.ts`.
 * @module
 */
export { checkFormula } from './check.js'
export type { Checked, CheckedFormula, CheckedLink, Operator, Reference, Watch } from './checked.js'
export type { ColumnId, Scope, ScopeColumn } from './scope.js'
export { type ExpressionType, expressionType, typeWords } from './types.js'
