/**
 * The formula language: text ▸ tokens ▸ tree ▸ checked, typed expression ▸ plan of block kernels. In comes a formula and the
 * names it may use, out go findings and a plan. Start reading at `syntax/`, then `check/`, then `plan/`.
 * @module
 */

export {
  type BookScope,
  type Checked,
  type CheckedFormula,
  type CheckedOrderKey,
  type CheckedRows,
  type ColumnId,
  type ColumnUses,
  checkFormula,
  checkOwnFunction,
  columnsOfRowsRead,
  type ExpressionType,
  expressionType,
  type FormulaTarget,
  type FunctionFacts,
  identityOf,
  type LinkId,
  mapParts,
  type Operator,
  type OwnCall,
  type OwnFunction,
  type OwnParameter,
  ownForm,
  partsOf,
  type RowsRead,
  type Scope,
  type ScopeColumn,
  type ScopeLink,
  type ScopeValue,
  somePart,
  typeWords,
  variesByRow,
  withoutSteps,
} from './check/index.js'
export { type Definition, isSameName, type LinkDefinition, parseDefinition, parseLink, splitDefinitions } from './definition.js'
export {
  type Completion,
  type CompletionKind,
  type Completions,
  completeFormula,
  formatFormula,
  type Hover,
  hoverAt,
  renameAt,
  type SignatureHelp,
  signatureAt,
  type TokenKind,
  type TokenOfKind,
  tokenKinds,
} from './editor/index.js'
export { type Explanation, type ExplanationLine, explainFormula, explanationText } from './explain/index.js'
export {
  definesFunction,
  type FunctionDefinition,
  parseFunction,
  readParameters,
  type WrittenParameter,
} from './function-definition.js'
export { compilePlan, Frame, type FrameSource, type Plan } from './plan/index.js'
export { childrenOf, namesIn, type Parsed, parseFormula, type Syntax, tokenize, visitCalls, visitNames } from './syntax/index.js'
