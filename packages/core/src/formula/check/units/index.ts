/**
 * Units of measure in formulas: the unit of each part, and where quantities do not go together. Start reading at `unit-of.ts`.
 * @module
 */

export { checkConvert } from './convert.js'
export { checkDeclaredUnit } from './declared-unit.js'
export { unitOf } from './unit-of.js'
export { certainUnit } from './unit-reading.js'
