import { civilOf, dayOfCivil, daysInMonth } from './civil.js'

/** Milliseconds of a day of the wall clock; every day has 24 hours. */
export const MS_PER_DAY = 86_400_000

const isoDateTime = /^(\d{4}-\d\d-\d\d)T(\d\d):(\d\d)(?::(\d\d)(?:\.(\d{1,9}))?)?(Z|[+-]\d\d(?::?\d\d)?)?$/

/** The epoch day of an ISO 8601 date (`2026-03-14`), or NaN. */
export function parseDateText(text: string): number {
  if (text.length !== 10 || text.charCodeAt(4) !== HYPHEN || text.charCodeAt(7) !== HYPHEN) return Number.NaN
  const year = digitsAt(text, 0) * 100 + digitsAt(text, 2)
  const month = digitsAt(text, 5)
  const day = digitsAt(text, 8)
  // Also when a sign is no digit, since nothing compares with NaN.
  if (!(year >= 1 && month >= 1 && day >= 1) || month > 12 || day > daysInMonth(year, month)) return Number.NaN
  return dayOfCivil(year, month, day)
}

const HYPHEN = 0x2d
const ZERO = 0x30

/** The number of two digits, or NaN. A pattern would take five times as long, and dates come by the million. */
function digitsAt(text: string, at: number): number {
  const tens = text.charCodeAt(at) - ZERO
  const ones = text.charCodeAt(at + 1) - ZERO
  return tens >= 0 && tens <= 9 && ones >= 0 && ones <= 9 ? tens * 10 + ones : Number.NaN
}

/**
 * The wall-clock milliseconds of an ISO 8601 date-time, or NaN. Fractions are whole milliseconds: finer digits must be 0.
 *
 * @param toWall - turns UTC milliseconds into the book's wall clock; used only by texts that carry an offset
 */
export function parseDateTimeText(text: string, toWall: (utcMs: number) => number = (utcMs) => utcMs): number {
  const match = isoDateTime.exec(text)
  if (match === null) return Number.NaN
  const day = parseDateText(match[1] as string)
  const hour = Number(match[2])
  const minute = Number(match[3])
  const second = Number(match[4] ?? 0)
  const fraction = (match[5] ?? '').padEnd(3, '0')
  if (Number.isNaN(day) || hour > 23 || minute > 59 || second > 59 || /[1-9]/.test(fraction.slice(3))) return Number.NaN
  const wall = day * MS_PER_DAY + hour * 3_600_000 + minute * 60_000 + second * 1000 + Number(fraction.slice(0, 3))
  const offset = match[6]
  if (offset === undefined) return wall
  return toWall(wall - offsetMs(offset))
}

/** The wall-clock milliseconds of an ISO 8601 date, at its beginning, or date-time; NaN for neither. */
export function parseMomentText(text: string, toWall?: (utcMs: number) => number): number {
  const day = parseDateText(text)
  return Number.isNaN(day) ? parseDateTimeText(text, toWall) : day * MS_PER_DAY
}

function offsetMs(offset: string): number {
  if (offset === 'Z') return 0
  const sign = offset.startsWith('-') ? -1 : 1
  return sign * (Number(offset.slice(1, 3)) * 60 + Number(offset.slice(3).replace(':', '') || 0)) * 60_000
}

/** An epoch day as `2026-03-14`. */
export function printDate(epochDay: number): string {
  const { year, month, day } = civilOf(epochDay)
  return `${pad(year, 4)}-${pad(month, 2)}-${pad(day, 2)}`
}

/** Wall-clock milliseconds as `2026-03-14T09:30:00`, the fraction only when it is not zero. */
export function printDateTime(epochMs: number): string {
  const epochDay = Math.floor(epochMs / MS_PER_DAY)
  const ms = epochMs - epochDay * MS_PER_DAY
  const clock = `${pad(Math.floor(ms / 3_600_000), 2)}:${pad(Math.floor(ms / 60_000) % 60, 2)}:${pad(Math.floor(ms / 1000) % 60, 2)}`
  const fraction = ms % 1000 === 0 ? '' : `.${pad(ms % 1000, 3).replace(/0+$/, '')}`
  return `${printDate(epochDay)}T${clock}${fraction}`
}

function pad(value: number, width: number): string {
  return String(value).padStart(width, '0')
}
