/**
 * Values and their errors as terms, and the arithmetic of them: what every formula is made of. Start reading at `value.ts`, then
 * `magnitude.ts`, which says where an engine has to be kept from the ends of binary64.
 * @module
 */

export { product, quotient, sum } from './arithmetic.js'
export { dated, datePlusDays, dayOf, dayToTime, momentOf, timeDifference, timed, timePlusDays } from './dates.js'
export {
  eitherSize,
  isWholeSize,
  type Magnitude,
  sizeOfNumber,
  UNBOUNDED,
  WHOLE,
} from './magnitude.js'
export { power } from './power.js'
export {
  faultOf,
  faultOfKnown,
  faultOfMissing,
  faultWhen,
  firstFault,
  isWritten,
  nothing,
  numberLiteral,
  strict,
  textLiteral,
  unlessFault,
  type Value,
  valueFrom,
  withoutNegativeZero,
} from './value.js'
export type { Writing } from './writing.js'
