import { finding, printName, type ValueType } from 'mellow-abacus'
import { MS_PER_DAY, printDate, printDateTime } from 'mellow-abacus/storage'
import { base64 } from '../bytes.js'
import type { ColumnReader } from './column-reader.js'
import type { TableReader } from './table-reader.js'

const LARGEST_WHOLE = 2n ** 53n

/** What a column of a typed file holds; a `decimal` comes as its text; `json` for lists, records and bytes, which are kept as JSON text. */
export type TypedKind = 'number' | 'integer' | 'decimal' | 'text' | 'boolean' | 'date' | 'datetime' | 'instant' | 'json' | 'none'

/**
 * A column of a format that has types of its own. A date comes as days, a date-time or an instant (a moment in UTC) as
 * milliseconds since 1970-01-01.
 */
export class TypedColumn {
  readonly #kind: TypedKind
  readonly #reader: ColumnReader
  readonly name: string
  /** How many values were kept as JSON text. */
  nested = 0
  /** Numbers with more digits than a number keeps, and times finer than a millisecond, with the first of them. */
  readonly rounded: Cut = { cells: 0, sample: '' }
  readonly cutTimes: Cut = { cells: 0, sample: '' }

  constructor(table: TableReader, name: string, kind: TypedKind) {
    this.#kind = kind
    this.name = name
    this.#reader = table.addColumn(name, undefined, TYPES[kind])
  }

  /** Takes a cell in; null and undefined are blank. */
  push(value: unknown): void {
    const reader = this.#reader
    if (value === null || value === undefined) return reader.pushBlank()
    switch (this.#kind) {
      case 'number':
      case 'integer':
        return this.#number(value as number | bigint)
      case 'decimal':
        return this.#decimal(String(value))
      case 'boolean':
        return reader.push(value === true || value === 1 ? 'true' : 'false')
      case 'date':
        return reader.push(dateText(Number(value)))
      case 'datetime':
        return reader.push(timeText(this.#wholeTime(Number(value))))
      case 'instant':
        return reader.push(`${timeText(this.#wholeTime(Number(value)))}Z`)
      case 'text':
        return reader.pushText(String(value))
      default:
        this.nested++
        reader.pushLiteral(jsonText(value))
    }
  }

  /** Milliseconds since 1970-01-01 without what is finer; that something is left out is noted. */
  #wholeTime(time: number): number {
    const whole = Math.floor(time)
    if (whole !== time) note(this.cutTimes, `${timeText(whole)} and ${((time - whole) * 1000).toFixed(3)} microseconds`)
    return whole
  }

  /** A decimal as the number nearest to it; a whole one that would lose digits is a text, as in CSV. */
  #decimal(text: string): void {
    const digits = text.replace(/^-?0*|\.|0+$/g, '').length
    const value = Number(text)
    if (!text.includes('.') && !Number.isSafeInteger(value)) return this.#reader.push(text)
    if (digits > EXACT_DIGITS) note(this.rounded, text)
    this.#reader.pushNumber(value)
  }

  #number(value: number | bigint): void {
    const isExact = typeof value === 'number' ? Number.isFinite(value) : value <= LARGEST_WHOLE && value >= -LARGEST_WHOLE
    if (isExact) this.#reader.pushNumber(Number(value))
    else this.#reader.pushLiteral(String(value))
  }
}

/** Decimal digits that every number keeps (IEEE 754-2019, 5.12.2, for binary64). */
const EXACT_DIGITS = 15

/** Cells of which something was left out. */
interface Cut {
  cells: number
  sample: string
}

function note(cut: Cut, sample: string): void {
  if (cut.cells++ === 0) cut.sample = sample
}

const TYPES: Readonly<Record<TypedKind, ValueType | undefined>> = {
  number: 'number',
  integer: 'integer',
  decimal: 'number',
  text: 'text',
  boolean: 'boolean',
  date: 'date',
  datetime: 'datetime',
  instant: 'datetime',
  json: 'text',
  none: undefined,
}

const FIRST_DAY = -719_162
const LAST_DAY = 2_932_896

/** A day in ISO 8601; one outside the years 1 to 9999 as its number of days, which no date column takes. */
function dateText(day: number): string {
  return day >= FIRST_DAY && day <= LAST_DAY ? printDate(Math.floor(day)) : `day ${day}`
}

function timeText(time: number): string {
  const whole = Math.floor(time)
  return whole >= FIRST_DAY * MS_PER_DAY && whole < (LAST_DAY + 1) * MS_PER_DAY ? printDateTime(whole) : `millisecond ${time}`
}

/** Stands around the digits of a whole number that JSON's own writer has no word for. */
const DIGITS_BEGIN = '\u0001digits:'
const DIGITS = new RegExp(`"${JSON.stringify(DIGITS_BEGIN).slice(1, -1).replace('\\', '\\\\')}(-?\\d+)"`, 'g')

/** A value as JSON: large whole numbers with all their digits, bytes in base 64. */
function jsonText(value: unknown): string {
  let hasDigits = false
  const text = JSON.stringify(value, (_, part: unknown) => {
    if (typeof part === 'bigint') {
      hasDigits = true
      return `${DIGITS_BEGIN}${part}`
    }
    if (part instanceof Uint8Array) return base64(part)
    return part
  })
  return hasDigits ? text.replace(DIGITS, '$1') : text
}

/** Says what of the cells could not be kept as it was: nested values, digits, parts of a millisecond. */
export function noteLosses(table: TableReader, columns: readonly TypedColumn[]): void {
  for (const { name, rounded, cutTimes } of columns)
    for (const [code, { cells, sample }] of [
      ['rounded-numbers', rounded],
      ['cut-times', cutTimes],
    ] as const)
      if (cells > 0) {
        const count = cells === 1 ? '1 cell' : `${cells} cells`
        table.findings.push(finding(code, { count, name: printName(name), sample }, { rows: cells }))
      }
  const nested = columns.reduce((sum, column) => sum + column.nested, 0)
  if (nested === 0) return
  table.findings.push(finding('nested-values', { count: nested === 1 ? '1 nested value is' : `${nested} nested values are` }))
}
