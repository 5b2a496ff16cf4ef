/**
 * Formulas from examples, for a table of a workbook. In come wanted values in some rows, out go formulas that give them, with what
 * they do on all rows. Start reading at `suggest.ts`.
 * @module
 */

export { suggestFormulas } from './suggest.js'
export type { Suggestion, SuggestionExample, SuggestionQuestion, SuggestionRequest } from './suggestion.js'
