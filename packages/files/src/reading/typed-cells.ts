import { finding, printDate, printDateTime, type ValueType } from 'mellow-abacus'
import type { ColumnReader } from './column-reader.js'
import type { TableReader } from './table-reader.js'

const LARGEST_WHOLE = 2n ** 53n

/** What a column of a typed file holds; `json` for lists, records and bytes, which are kept as JSON text. */
export type TypedKind = 'number' | 'integer' | 'text' | 'boolean' | 'date' | 'datetime' | 'instant' | 'json' | 'none'

/**
 * A column of a format that has types of its own. A date comes as days, a date-time or an instant (a moment in UTC) as
 * milliseconds since 1970-01-01.
 */
export class TypedColumn {
  readonly #kind: TypedKind
  readonly #reader: ColumnReader
  /** How many values were kept as JSON text. */
  nested = 0

  constructor(table: TableReader, name: string, kind: TypedKind) {
    this.#kind = kind
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
      case 'boolean':
        return reader.push(value === true || value === 1 ? 'true' : 'false')
      case 'date':
        return reader.push(dateText(Number(value)))
      case 'datetime':
        return reader.push(timeText(Number(value)))
      case 'instant':
        return reader.push(`${timeText(Number(value))}Z`)
      case 'text':
        return reader.pushText(String(value))
      default:
        this.nested++
        reader.pushLiteral(jsonText(value))
    }
  }

  #number(value: number | bigint): void {
    const isExact = typeof value === 'number' ? Number.isFinite(value) : value <= LARGEST_WHOLE && value >= -LARGEST_WHOLE
    if (isExact) this.#reader.pushNumber(Number(value))
    else this.#reader.pushLiteral(String(value))
  }
}

const TYPES: Readonly<Record<TypedKind, ValueType | undefined>> = {
  number: 'number',
  integer: 'integer',
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
const DAY = 86_400_000

/** A day in ISO 8601; one outside the years 1 to 9999 as its number of days, which no date column takes. */
function dateText(day: number): string {
  return day >= FIRST_DAY && day <= LAST_DAY ? printDate(Math.floor(day)) : `day ${day}`
}

function timeText(time: number): string {
  const whole = Math.floor(time)
  return whole >= FIRST_DAY * DAY && whole < (LAST_DAY + 1) * DAY ? printDateTime(whole) : `millisecond ${time}`
}

/** A value as JSON, with what JSON has no word for as text. */
function jsonText(value: unknown): string {
  return JSON.stringify(value, (_, part: unknown) => {
    if (typeof part === 'bigint') return part.toString()
    if (part instanceof Uint8Array) return Buffer.from(part).toString('base64')
    return part
  })
}

/** Says how many values of all columns were kept as JSON text. */
export function noteNested(table: TableReader, columns: readonly TypedColumn[]): void {
  const nested = columns.reduce((sum, column) => sum + column.nested, 0)
  if (nested === 0) return
  table.findings.push(finding('nested-values', { count: nested === 1 ? '1 nested value is' : `${nested} nested values are` }))
}
