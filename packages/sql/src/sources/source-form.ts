import type { ValueType } from 'mellow-abacus'
import type { Dialect, StoredKind } from '../dialects/index.js'
import { type Magnitude, textLiteral, UNBOUNDED, WHOLE } from '../values/index.js'

/** A way to read a column of a database as values of ours. */
export interface SourceReading {
  /** The value; of a row that does not fit it is not asked for. */
  readonly value: string
  /** True for the rows whose value fits; null where every one does. What does not fit is a misfit. */
  readonly fits: string | null
  /** What is known of its numbers. */
  readonly size: Magnitude
}

/** How a column of a database is read. */
export interface SourceForm {
  readonly type: ValueType
  /** Whatever its rows hold; null where not all of that has a place here. */
  readonly always: SourceReading | null
  /**
   * While all rows are as they mostly are: no infinities, numbers of a usual size. Then there is nothing to guard against, which
   * makes views as fast as if they were written by hand.
   */
  readonly usually: SourceReading
  /** True for the rows that are as they mostly are; null where all are. */
  readonly isUsual: string | null
}

/** The greatest whole number up to which binary64 holds all. */
const MOST_EXACT = '9007199254740992'
const LARGEST = '1.7976931348623157e308'
/** Half of the smallest binary64 number: what is less rounds to 0, which the engine takes for a mistake. */
const HALF_OF_LEAST = '2.4703282292062328e-324'
/** Bits of a decimal digit. */
const BITS_A_DIGIT = Math.log2(10)
/** Digits of a whole number that binary64 holds whatever they are. */
const EXACT_DIGITS = 15
/** Numbers of a usual size, unless they are 0: long chains of products and quotients of them stay within binary64. */
const USUAL = { least: '1e-30', most: '1e30', size: { grain: -153, high: 100 } }

/**
 * How a column of a database is read.
 *
 * @param quoted - the column in a statement
 * @param wanted - the type that it has in the workbook; null for the one that goes with its own
 * @param zone - the zone in which moments are date-times
 * @returns null where there is no such reading
 */
export function sourceForm(
  dialect: Dialect,
  stored: StoredKind,
  quoted: string,
  wanted: ValueType | null,
  zone: string,
): SourceForm | null {
  // Whole numbers as they are written: identifiers that are too large to be numbers.
  if (stored.kind === 'whole' && wanted === 'text') return plainForm('text', dialect.asText(quoted))
  const natural = naturalForm(dialect, stored, quoted, zone)
  if (wanted === null || natural.type === wanted) return natural
  return natural.type === 'integer' && wanted === 'number' ? { ...natural, type: 'number' } : null
}

/** How a column is read now; null where some rows have no place in a workbook. */
export function readingOf({ always, usually }: SourceForm, isUsual: boolean): SourceReading | null {
  return isUsual ? usually : always
}

/** The value of a column, null where none fits. */
export function fittingValue({ fits, value }: SourceReading): string {
  return fits === null ? value : `case when ${fits} then ${value} end`
}

/** A column of which every value has a place. */
function plainForm(type: ValueType, value: string, size: Magnitude = UNBOUNDED): SourceForm {
  const reading = { value, fits: null, size }
  return { type, always: reading, usually: reading, isUsual: null }
}

/** A column that is read without a guard while all of its values fit. */
function guardedForm(type: ValueType, value: string, fits: string, size: Magnitude = UNBOUNDED): SourceForm {
  return { type, always: { value, fits, size }, usually: { value, fits: null, size }, isUsual: fits }
}

function naturalForm(dialect: Dialect, stored: StoredKind, quoted: string, zone: string): SourceForm {
  const plain = `cast(${quoted} as float8)`
  switch (stored.kind) {
    case 'whole':
      return wholeForm(plain, quoted, stored.bits)
    case 'decimal': {
      const { digits, behind } = stored
      const value = dialect.nearestNumber(quoted, digits)
      if (behind <= 0) return wholeForm(value, quoted, digits - behind <= EXACT_DIGITS ? bitsOf(digits - behind) : 63)
      const size = { grain: -bitsOf(behind) - 53, high: bitsOf(digits - behind) + 1 }
      // A decimal of PostgreSQL may be no number.
      if (dialect.name === 'postgresql') return guardedForm('number', value, `${quoted} <> 'NaN'`, size)
      return plainForm('number', value, size)
    }
    case 'any-decimal': {
      const nearest = dialect.nearestNumber(quoted, Number.POSITIVE_INFINITY)
      const value = `case when abs(${quoted}) < ${HALF_OF_LEAST} then 0 else ${nearest} end`
      return numberForm({ value, fits: `${quoted} between -${LARGEST} and ${LARGEST}`, size: UNBOUNDED }, quoted, nearest)
    }
    // What is added takes the sign from a zero.
    case 'binary32':
      return numberForm({ value: `(${plain} + 0)`, fits: isFiniteText(quoted), size: { grain: -149, high: 128 } }, quoted)
    case 'binary64':
      return numberForm({ value: `(${plain} + 0)`, fits: isFiniteText(quoted), size: UNBOUNDED }, quoted)
    case 'text':
      return plainForm('text', dialect.asText(quoted))
    case 'boolean':
      return plainForm('boolean', quoted)
    case 'date':
      return guardedForm('date', quoted, `${quoted} between date '0001-01-01' and date '9999-12-31'`)
    case 'datetime':
      return datetimeForm(`cast(${quoted} as timestamp)`)
    case 'moment':
      return datetimeForm(`(${quoted} at time zone ${textLiteral(zone)})`)
  }
}

/** Numbers that are mostly of a usual size, and zeros without a sign. */
function numberForm(always: SourceReading, quoted: string, value = `cast(${quoted} as float8)`): SourceForm {
  const isZero = `${quoted} = 0 and cast(${quoted} as text) not like '-%'`
  const isUsual = `(abs(${quoted}) between ${USUAL.least} and ${USUAL.most} or ${isZero})`
  return { type: 'number', always, usually: { value, fits: null, size: USUAL.size }, isUsual }
}

/** Whole numbers; beyond 2 ^ 53 they have no place here as numbers. */
function wholeForm(value: string, quoted: string, bits: number): SourceForm {
  if (bits < WHOLE.high) return plainForm('integer', value, { grain: 0, high: bits + 1 })
  const usually = { value, fits: null, size: WHOLE }
  return { type: 'integer', always: null, usually, isUsual: `${quoted} between -${MOST_EXACT} and ${MOST_EXACT}` }
}

/** Date-times have milliseconds here. */
function datetimeForm(text: string): SourceForm {
  const fits = `${text} between timestamp '0001-01-01' and timestamp '9999-12-31 23:59:59.999999'`
  return guardedForm('datetime', `date_trunc('milliseconds', ${text})`, fits)
}

/** Not an infinity, and a number at all, which comes after the infinities. */
function isFiniteText(quoted: string): string {
  return `(abs(${quoted}) < 'infinity'::float8)`
}

/** The bits that a number of so many decimal digits has at most. */
function bitsOf(digits: number): number {
  return Math.ceil(digits * BITS_A_DIGIT)
}
