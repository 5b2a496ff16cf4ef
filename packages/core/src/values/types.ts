import { printDate, printDateTime } from './date-text.js'
import { displayNumber } from './number-text.js'

/** The types a column can have, in the order they are listed to a reader (docs/language, "Values"). */
export const VALUE_TYPES = ['number', 'integer', 'text', 'boolean', 'date', 'datetime'] as const

/** One of the six column types. `integer` is a number column that accepts only whole values within ±2^53. */
export type ValueType = (typeof VALUE_TYPES)[number]

/**
 * A value outside a column. Dates are epoch days and date-times epoch milliseconds of the wall clock, both as numbers:
 * what a number means is always said by the type beside it.
 */
export type Scalar = number | string | boolean

/** How values of a type are stored: numbers (also dates and date-times), texts or booleans. */
export type StorageKind = 'number' | 'text' | 'boolean'

/** The storage kind of a value type. */
export function storageKindOf(type: ValueType): StorageKind {
  return type === 'text' ? 'text' : type === 'boolean' ? 'boolean' : 'number'
}

/** A value as text without a display format: numbers to 15 significant digits, dates in ISO 8601. */
export function displayScalar(value: Scalar, type: ValueType): string {
  if (typeof value === 'string') return value
  if (typeof value === 'boolean') return value ? 'true' : 'false'
  if (type === 'date') return printDate(value)
  if (type === 'datetime') return printDateTime(value)
  return displayNumber(value)
}
