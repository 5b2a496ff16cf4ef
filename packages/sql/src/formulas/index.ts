/**
 * Typed formulas as terms: each is its value and its error. In comes a checked expression and what its names are, out go terms.
 * Start reading at `model-terms.ts`, then `formula.ts`.
 * @module
 */

export { inputOf, needsOrder, type OverRows, type Parts } from './aggregate-input.js'
export { PICKS } from './aggregates.js'
export { Bounds } from './bounds.js'
export { blankOf, FACTS, inExpressions, NEVER, overRows, readColumn, rowsFunction, unlessError } from './expressions.js'
export { functionsWithForm } from './functions-with-form.js'
export { lastId } from './last-id.js'
export { BOOK, ModelTerms, NOWHERE, type TableTerms } from './model-terms.js'
export { withoutNamedSteps } from './named-steps.js'
export {
  type GroupsOfRows,
  hopIdentity,
  type KeptColumn,
  type KeptRows,
  type SourceColumn,
  type SourceOfTable,
  type TableReading,
} from './reading.js'
export { amongText } from './rows-among.js'
export { type ShownColumn, shownColumns } from './shown-columns.js'
