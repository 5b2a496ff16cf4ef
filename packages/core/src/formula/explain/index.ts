/**
 * Formulas in plain English. In comes a formula with the names of its table, out go lines to read and notes on blanks, errors
 * and functions. Start reading at `explain.ts`.
 * @module
 */
export { type Explanation, type ExplanationLine, explainFormula, explanationText } from './explain.js'
