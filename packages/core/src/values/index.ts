/**
 * What a cell can hold, and the plain arithmetic of it: types, faults, names, civil dates, number text, rounding.
 *
 * Nothing here knows of columns, formulas or workbooks. Start reading at `types.ts`, then `faults.ts`.
 * @module
 */

export { addMonths, civilOf, dayOfCivil, daysInMonth, FIRST_DAY, LAST_DAY, weekdayOf } from './civil.js'
export { compileDatePattern, type DatePattern } from './date-pattern.js'
export { compileDatePrinter } from './date-printer.js'
export { MS_PER_DAY, parseDateText, parseDateTimeText, parseMomentText, printDate, printDateTime } from './date-text.js'
export { divideSum } from './divide-sum.js'
export { factorial, greatestCommonDivisor, leastCommonMultiple } from './divisors.js'
export { type ExactDecimal, type ExactParts, exactDecimal, exactParts, overCommonScale, roundRatio } from './exact-ratio.js'
export { ExactSum, exactSum } from './exact-sum.js'
export { CellFault, FAULT_CODES, type FaultCode, faultOfStatus, isFaultStatus, Status, statusOfFault } from './faults.js'
export { firstNumberFrom, firstWhere } from './first-where.js'
export { graphemeCount, graphemeEnds } from './graphemes.js'
export { logarithm } from './logarithm.js'
export { moduleOfNode } from './module-of-node.js'
export { foldName, isReservedWord, printName, quoteText, splitNames } from './names.js'
export { compileNumberPattern } from './number-pattern.js'
export { displayNumber, parseNumberText, printNumber } from './number-text.js'
export {
  endOfPeriod,
  isoWeekOf,
  isPeriodUnit,
  MONTHS_OF_UNIT,
  MS_OF_UNIT,
  monthsBetween,
  PERIOD_UNITS,
  type PeriodUnit,
  startOfPeriod,
} from './periods.js'
export { powerOf } from './power.js'
export { roundToStep } from './round-to-step.js'
export { type RoundingMode, roundDecimal } from './rounding.js'
export { seededUniform } from './seeded.js'
export { defaultSurroundings, type Surroundings } from './surroundings.js'
export { compareText } from './text-order.js'
export { displayScalar, type Scalar, type StorageKind, storageKindOf, VALUE_TYPES, type ValueType } from './types.js'
export { isWhole, LARGEST_WHOLE } from './whole.js'
export { NO_HOLIDAYS, parseWeekend, type WorkCalendar, workCalendar } from './workdays.js'
export { isTimeZone, zonedWallClock } from './zones.js'
