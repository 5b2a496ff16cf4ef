/**
 * Typed formulas as terms: each is its value and its error. In comes a checked expression and what its names are, out go terms.
 * Start reading at `model-terms.ts`, then `formula.ts`.
 * @module
 */

export { functionsWithForm } from './functions-with-form.js'
export { ModelTerms, type TableTerms } from './model-terms.js'
export type { SourceColumn, SourceOfTable } from './reading.js'
