/**
 * Formulas for a table of a workbook: from examples, and by what they are for. In come wanted values in some rows, or words; out go
 * formulas, with what they do on all rows. Start reading at `suggest.ts`.
 * @module
 */

export { type FilledTemplate, fillTemplates } from './filled-templates.js'
export { suggestFormulas } from './suggest.js'
export type { Suggestion, SuggestionExample, SuggestionQuestion, SuggestionRequest } from './suggestion.js'
