import type { ValueType } from 'mellow-abacus'
import type { Dialect, StoredKind } from '../dialects/index.js'
import { type Magnitude, UNBOUNDED, WHOLE } from '../values/index.js'

/** How a column of a database is read as values of ours. */
export interface SourceForm {
  readonly type: ValueType
  /** The value; of a row that does not fit it is not asked for. */
  readonly value: string
  /** True for the rows whose value fits; null where every one does. What does not fit is a misfit. */
  readonly fits: string | null
  /**
   * True for the rows that are as they are taken to be: nothing guards against others in a view, since a key that may be an error
   * would make an error of all that it leads to. Null where nothing is taken for granted. Looked at whenever a sample is taken and
   * a model is published.
   */
  readonly presumed: string | null
  /** What is known of its numbers. */
  readonly size: Magnitude
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
  if (stored.kind === 'whole' && wanted === 'text') return textForm(dialect.asText(quoted))
  const natural = naturalForm(dialect, stored, quoted, zone)
  if (wanted === null || natural.type === wanted) return natural
  return natural.type === 'integer' && wanted === 'number' ? { ...natural, type: 'number' } : null
}

/** The value of a column, null where none fits. */
export function fittingValue({ fits, value }: SourceForm): string {
  return fits === null ? value : `case when ${fits} then ${value} end`
}

function textForm(value: string): SourceForm {
  return { type: 'text', value, fits: null, presumed: null, size: UNBOUNDED }
}

function naturalForm(dialect: Dialect, stored: StoredKind, quoted: string, zone: string): SourceForm {
  const number = { type: 'number', presumed: null } as const
  const plain = `cast(${quoted} as float8)`
  switch (stored.kind) {
    case 'whole':
      return wholeForm(plain, quoted, stored.bits)
    case 'decimal': {
      const { digits, behind } = stored
      const value = dialect.nearestNumber(quoted, digits)
      if (behind <= 0) return wholeForm(value, quoted, digits - behind <= EXACT_DIGITS ? bitsOf(digits - behind) : 63)
      const size = { grain: -bitsOf(behind) - 53, high: bitsOf(digits - behind) + 1 }
      return { ...number, value, fits: null, presumed: isNumber(dialect, quoted), size }
    }
    case 'any-decimal': {
      const inRange = `${quoted} between -${LARGEST} and ${LARGEST}`
      const value = `case when abs(${quoted}) < ${HALF_OF_LEAST} then 0 else ${dialect.nearestNumber(quoted, Number.POSITIVE_INFINITY)} end`
      return { ...number, value, fits: inRange, size: UNBOUNDED }
    }
    case 'binary32':
      return { ...number, value: `(${plain} + 0)`, fits: isFiniteText(quoted), size: { grain: -149, high: 128 } }
    case 'binary64':
      return { ...number, value: `(${plain} + 0)`, fits: isFiniteText(quoted), size: UNBOUNDED }
    case 'text':
      return textForm(dialect.asText(quoted))
    case 'boolean':
      return { type: 'boolean', value: quoted, fits: null, presumed: null, size: UNBOUNDED }
    case 'date': {
      const fits = `${quoted} between date '0001-01-01' and date '9999-12-31'`
      return { type: 'date', value: quoted, fits, presumed: null, size: UNBOUNDED }
    }
    case 'datetime':
      return datetimeForm(`cast(${quoted} as timestamp)`)
    case 'moment':
      return datetimeForm(`(${quoted} at time zone '${zone}')`)
  }
}

function wholeForm(value: string, quoted: string, bits: number): SourceForm {
  const isExact = bits < WHOLE.high
  const presumed = isExact ? null : `${quoted} between -${MOST_EXACT} and ${MOST_EXACT}`
  return { type: 'integer', value, fits: null, presumed, size: isExact ? { grain: 0, high: bits + 1 } : WHOLE }
}

/** Date-times have milliseconds here. */
function datetimeForm(text: string): SourceForm {
  const fits = `${text} between timestamp '0001-01-01' and timestamp '9999-12-31 23:59:59.999999'`
  return { type: 'datetime', value: `date_trunc('milliseconds', ${text})`, fits, presumed: null, size: UNBOUNDED }
}

/** Not an infinity, and a number at all, which comes after the infinities. */
function isFiniteText(quoted: string): string {
  return `(abs(${quoted}) < 'infinity'::float8)`
}

/** A decimal of PostgreSQL may be none. */
function isNumber({ name }: Dialect, quoted: string): string | null {
  return name === 'postgresql' ? `${quoted} <> 'NaN'` : null
}

/** The bits that a number of so many decimal digits has at most. */
function bitsOf(digits: number): number {
  return Math.ceil(digits * BITS_A_DIGIT)
}
