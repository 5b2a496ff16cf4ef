/**
 * Calls of functions that are defined in the workbook: each is checked as if the formula of the function were written there.
 * Start reading at `own-call.ts`.
 * @module
 */

export { checkOwnCall, placeInFormula } from './own-call.js'
export { ownForm, parameterForm } from './own-form.js'
