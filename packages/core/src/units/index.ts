/**
 * Units of measure: reading and printing them, products and powers, what they measure, and how one becomes another.
 *
 * Nothing here knows of formulas. Start reading at `unit.ts`, then `parse-unit.ts` and `measure.ts`.
 * @module
 */

export { differenceTo, likenessOf, mayBeConverted } from './compare-units.js'
export { conversionBetween, isIdentity } from './conversion.js'
export { parseUnit } from './parse-unit.js'
export { printUnit, raisedDigits } from './print-unit.js'
export { differenceOf, isSameReading, PLAIN, powerOf, productOf, quotientOf, timesNumber, type Unit } from './unit.js'
export { loadUnits } from './unit-tables.js'
