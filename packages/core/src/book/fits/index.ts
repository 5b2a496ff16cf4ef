/**
 * Fits: a polynomial through the rows of a table, by least squares or as it is given, and how well it fits.
 *
 * In comes what is to be fitted, out go coefficients, what is left, and the definitions that write the curve into the table.
 * Start reading at `fit-types.ts`, then `fit.ts`.
 * @module
 */

export { fitRows } from './fit.js'
export type { Fit, FitCoefficient, FitPoints, FitQuantity, FitRequest, LeftOut } from './fit-types.js'
export { equationOf, type FitDefinition, fitDefinitions } from './fit-words.js'
export { parseFit } from './parse-fit.js'
