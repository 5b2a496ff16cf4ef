import type { FaultCode } from '../../src/index.js'

/** A value with the type that says what it means. Dates are epoch days, date-times epoch milliseconds. */
export type Known =
  | { type: 'number' | 'date' | 'datetime'; value: number }
  | { type: 'text'; value: string }
  | { type: 'boolean'; value: boolean }
/** An error. */
export interface Failed {
  fault: FaultCode
}
/** A value, blank or an error. */
export type Result = Known | Failed | null

/** Milliseconds of a day. */
export const DAY = 86_400_000
/** True for errors. */
export const isFailed = (result: Result): result is Failed => result !== null && 'fault' in result
/** A number, or the error of what is none. */
export const number = (value: number): Result =>
  Number.isFinite(value) ? { type: 'number', value: value + 0 } : { fault: 'out-of-range' }
/** A truth value. */
export const truth = (value: boolean): Result => ({ type: 'boolean', value })
/** A text, or the error of one that is too long. */
export const text = (value: string): Result => (value.length > 1_000_000 ? { fault: 'too-long' } : { type: 'text', value })

/** A date of the calendar of the language. */
export function day(value: number): Result {
  return Number.isInteger(value) && value >= -719_162 && value <= 2_932_896 ? { type: 'date', value } : { fault: 'out-of-range' }
}

/** A date-time of that calendar. */
export function time(value: number): Result {
  return value >= -719_162 * DAY && value < 2_932_897 * DAY ? { type: 'datetime', value } : { fault: 'out-of-range' }
}

/** A power, multiplied out. */
export function power(base: number, exponent: number): Result {
  if (base === 0 && exponent < 0) return { fault: 'division-by-zero' }
  if (!Number.isInteger(exponent)) return number(base ** exponent)
  let result = 1
  let square = base
  for (let rest = Math.abs(exponent); rest > 0; rest = Math.floor(rest / 2)) {
    if (rest % 2 === 1) result *= square
    square *= square
  }
  return number(exponent < 0 ? 1 / result : result)
}

/** Order of texts by code point. */
export function byCodePoint(left: string, right: string): number {
  const a = Array.from(left, (one) => one.codePointAt(0) as number)
  const b = Array.from(right, (one) => one.codePointAt(0) as number)
  for (let at = 0; at < Math.min(a.length, b.length); at++) if (a[at] !== b[at]) return (a[at] as number) - (b[at] as number)
  return a.length - b.length
}

/** A value as text without a format. */
export function display({ type, value }: Known): string {
  if (type === 'date') return new Date(value * DAY).toISOString().slice(0, 10).replace('+0', '')
  if (type === 'datetime')
    return new Date(value)
      .toISOString()
      .slice(0, 23)
      .replace(/\.?0*$/, '')
  if (type !== 'number') return String(value)
  return Number.isInteger(value) && Math.abs(value) <= 2 ** 53 ? String(value) : String(Number(value.toPrecision(15)))
}
