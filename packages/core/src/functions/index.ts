/**
 * The function library: one record a function, with its types and kernel, and beside it the guide that people read. In comes a call on argument
 * vectors, out go values and status of the selected rows. Start reading at `define.ts`, then any function.
 * @module
 */

export { fitPolynomial, HIGHEST_DEGREE } from './aggregate/polynomial-fit.js'
export {
  FUNCTION_FAMILIES,
  type FunctionFamily,
  type FunctionRecord,
  isOverRows,
  type SortedView,
  takesClauses,
  type UnitRule,
} from './define.js'
export type { FunctionExample, FunctionGuide } from './guide.js'
export { guideOf } from './guides.js'
export { FUNCTIONS, functionNamed } from './list.js'
export type { WayOfPhrase } from './purposes.js'
export { searchFunctions, wayOfPhrase } from './search.js'
export { callForm } from './signature.js'
export { stemsOf } from './stems.js'
export { templatesFor } from './template-search.js'
export type { FormulaTemplate, TemplateSlot } from './templates.js'
export { hasPatterns, loadPatterns } from './text/pattern-engine.js'
