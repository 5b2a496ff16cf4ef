/**
 * The function library: one record a function, with its text, types, examples and kernel. In comes a call on argument
 * vectors, out go values and status of the selected rows. Start reading at `define.ts`, then any function.
 * @module
 */
export {
  type CallPlace,
  type ClauseWord,
  defineFunction,
  FUNCTION_FAMILIES,
  type FunctionExample,
  type FunctionFamily,
  type FunctionRecord,
  type GatheredRows,
  isOverRows,
  type KernelCall,
  type LazyForm,
  type Moments,
  type SortedView,
  type TextRule,
  takesClauses,
} from './define.js'
export { LONGEST_TEXT } from './kernel-rows.js'
export { FUNCTIONS, functionNamed } from './list.js'
export type { WayOfPhrase } from './purposes.js'
export { searchFunctions, wayOfPhrase } from './search.js'
export { callForm, type Parameter } from './signature.js'
export { displayAt } from './text/join-values.js'
export { loadPatterns } from './text/pattern-engine.js'
