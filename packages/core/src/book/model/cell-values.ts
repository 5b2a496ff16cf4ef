import type { Cell, CellValue } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import {
  CellFault,
  displayScalar,
  FAULT_CODES,
  type FaultCode,
  isWhole,
  parseDateText,
  parseMomentText,
  parseNumberText,
  type Scalar,
  type ValueType,
  zonedWallClock,
} from '../../values/index.js'

/** A cell as `values()` gives it: dates as ISO 8601 text, errors as CellFault. */
export type ShownValue = number | string | boolean | null | CellFault

/** The type a column without one takes from a value. */
export function typeOfValue(value: CellValue): ValueType | null {
  if (value === null) return null
  if (typeof value === 'number') return 'number'
  return typeof value === 'boolean' ? 'boolean' : 'text'
}

/**
 * Reads an operation's value for a column of a type. What does not fit is a misfit with its text kept, never cut to fit;
 * what is no value at all (NaN, an object) is refused, and only then is its place spelt out.
 */
export function readCellValue(value: unknown, type: ValueType, place: () => string, zone: string): Cell {
  if (value === null || value === undefined) return null
  if (typeof value === 'number' && Number.isFinite(value)) return fitNumber(value + 0, type)
  const text = isMisfit(value) ? value.misfit : value
  if (typeof text === 'string' && !text.isWellFormed())
    throw refusal('bad-value', { place: place(), found: JSON.stringify(text), reason: 'the text has half of a character in it.' })
  if (isMisfit(value)) return fitText(value.misfit, type, zone) ?? new CellFault('misfit', value.misfit)
  if (isError(value)) return new CellFault(value.error)
  if (typeof value === 'boolean')
    return type === 'boolean' ? value : type === 'text' ? String(value) : new CellFault('misfit', String(value))
  if (typeof value === 'string') {
    const isTextual = type === 'text' || type === 'date' || type === 'datetime'
    return (isTextual ? fitText(value, type, zone) : null) ?? new CellFault('misfit', value)
  }
  const found = typeof value === 'number' ? String(value) : typeof value
  throw refusal('bad-value', {
    place: place(),
    found,
    reason: 'expected a number, text, true or false, null, or { misfit: text }.',
  })
}

function isMisfit(value: unknown): value is { misfit: string } {
  return typeof value === 'object' && value !== null && 'misfit' in value && typeof value.misfit === 'string'
}

function isError(value: unknown): value is { error: FaultCode } {
  return typeof value === 'object' && value !== null && 'error' in value && FAULT_CODES.some((code) => code === value.error)
}

function fitNumber(value: number, type: ValueType): Cell {
  if (type === 'number') return value
  if (type === 'integer') return isWhole(value) ? value : new CellFault('misfit', String(value))
  if (type === 'text') return String(value)
  return new CellFault('misfit', String(value))
}

/** The value that a text of a file stands for in a column of a type, or null when it does not fit. */
export function fitText(text: string, type: ValueType, zone: string): Scalar | null {
  switch (type) {
    case 'text':
      return text
    case 'boolean':
      return /^true$/i.test(text) ? true : /^false$/i.test(text) ? false : null
    case 'number':
    case 'integer': {
      const value = parseNumberText(text)
      return Number.isNaN(value) || (type === 'integer' && !isWhole(value)) ? null : value
    }
    case 'date':
    case 'datetime': {
      const value = type === 'date' ? parseDateText(text) : parseMomentText(text, zonedWallClock(zone))
      return Number.isNaN(value) ? null : value
    }
  }
}

/** A stored cell as `values()` gives it. */
export function showCell(cell: Cell, type: ValueType): ShownValue {
  if (typeof cell === 'number' && (type === 'date' || type === 'datetime')) return displayScalar(cell, type)
  return cell
}
