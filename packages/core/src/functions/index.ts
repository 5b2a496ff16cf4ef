/**
 * The function library: one record a function, with its text, types, examples and kernel. In comes a call on argument
 * vectors, out go values and status of the selected rows. Start reading at `define.ts`, then any function.
 * @module
 */

export {
  FUNCTION_FAMILIES,
  type FunctionExample,
  type FunctionFamily,
  type FunctionRecord,
  isOverRows,
  type SortedView,
  takesClauses,
} from './define.js'
export { FUNCTIONS, functionNamed } from './list.js'
export type { WayOfPhrase } from './purposes.js'
export { searchFunctions, wayOfPhrase } from './search.js'
export { callForm } from './signature.js'
export { loadPatterns } from './text/pattern-engine.js'
