/**
 * Mellow Abacus: calculated columns that follow their sources. A `Workbook` takes operations and gives change sets; what it
 * holds is read through `table(…)`, `query(…)` and `check()`.
 * @module
 */
export * from './book/index.js'
export type { Cell, Column, ReadonlyColumn, Summary } from './columns/index.js'
export {
  type Displayed,
  type DisplayedCells,
  displayOf,
  tidyDecimalsFor,
  tidyDecimalsOf,
  tidyDisplayOf,
} from './display/index.js'
export {
  applyEdits,
  CODE_GROUPS,
  caretLines,
  counted,
  FINDING_CODES,
  type Finding,
  type FindingCode,
  type Fix,
  finding,
  hasErrors,
  nearestName,
  Refusal,
  refuseErrors,
  type Severity,
  type TextEdit,
} from './findings/index.js'
export {
  type Completion,
  type CompletionKind,
  type Completions,
  type Definition,
  definesFunction,
  type Explanation,
  type ExplanationLine,
  explanationText,
  type FunctionDefinition,
  formatFormula,
  type Hover,
  isSameName,
  type LinkDefinition,
  parseDefinition,
  parseFormula,
  parseFunction,
  parseLink,
  type SignatureHelp,
  splitDefinitions,
  type TokenKind,
  type TokenOfKind,
} from './formula/index.js'
export {
  callForm,
  FUNCTION_FAMILIES,
  FUNCTIONS,
  type FunctionExample,
  type FunctionFamily,
  type FunctionGuide,
  type FunctionRecord,
  functionNamed,
  guideOf,
  loadPatterns,
  searchFunctions,
  type WayOfPhrase,
  wayOfPhrase,
} from './functions/index.js'
export { loadUnits } from './units/index.js'
export {
  CellFault,
  displayNumber,
  displayScalar,
  FAULT_CODES,
  type FaultCode,
  printName,
  quoteText,
  type Scalar,
  type Surroundings,
  splitNames,
  VALUE_TYPES,
  type ValueType,
} from './values/index.js'
