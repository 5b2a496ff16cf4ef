/**
 * Mellow Abacus: calculated columns that follow their sources. A `Workbook` takes operations and gives change sets; what it
 * holds is read through `table(…)`, `query(…)` and `check()`.
 * @module
 */
export * from './book/index.js'
export { BLOCK_MASK, BLOCK_ROWS, BLOCK_SHIFT, type Cell, Column, makeVector, type Summary, type Vector } from './columns/index.js'
export {
  applyEdits,
  CODE_GROUPS,
  caretLines,
  FINDING_CODES,
  type Finding,
  type FindingCode,
  type Fix,
  finding,
  hasErrors,
  nearestName,
  Refusal,
  type Severity,
  type TextEdit,
} from './findings/index.js'
export {
  type Completion,
  type CompletionKind,
  type Completions,
  type Definition,
  type Explanation,
  type ExplanationLine,
  explanationText,
  formatFormula,
  type Hover,
  isSameName,
  type LinkDefinition,
  parseDefinition,
  parseFormula,
  parseLink,
  type SignatureHelp,
  splitDefinitions,
  type TokenKind,
  type TokenOfKind,
} from './formula/index.js'
export {
  FUNCTION_FAMILIES,
  FUNCTIONS,
  type FunctionExample,
  type FunctionFamily,
  type FunctionRecord,
  functionNamed,
  searchFunctions,
} from './functions/index.js'
export {
  CellFault,
  compileDatePattern,
  type DatePattern,
  displayNumber,
  displayScalar,
  FAULT_CODES,
  type FaultCode,
  faultOfStatus,
  foldName,
  isTimeZone,
  parseDateText,
  parseDateTimeText,
  parseNumberText,
  printDate,
  printDateTime,
  printName,
  printNumber,
  type Scalar,
  Status,
  type Surroundings,
  statusOfFault,
  VALUE_TYPES,
  type ValueType,
  zonedWallClock,
} from './values/index.js'
