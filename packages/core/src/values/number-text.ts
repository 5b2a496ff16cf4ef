import { LARGEST_WHOLE } from './whole.js'

const wholeNumber = /^[+-]?\d+$/

/** Powers of ten that are exact in binary64: dividing a whole number below 2^53 by one rounds once (Clinger 1990). */
const EXACT_TENS = Array.from({ length: 23 }, (_, exponent) => Number(`1e${exponent}`))

const general = /^[+-]?(?:\d+(?:\.\d*)?|\.\d+)(?:[eE][+-]?\d+)?$/

/**
 * The number a text stands for, or NaN: an optional sign, digits with at most one decimal mark, an optional exponent,
 * nothing around it. A whole number beyond ±2^53 without an exponent is not a number (it would lose digits), nor is one
 * beyond binary64.
 *
 * @param decimal - char code of the decimal mark, `.` unless given
 */
export function parseNumberText(text: string, decimal = 46): number {
  const length = text.length
  if (length === 0) return Number.NaN
  // Fast path: at most 15 digits fit a binary64 integer exactly, and one exact division rounds once, so the result is
  // the nearest number, as Number(text) would give it, at a third of the time (bench: calc).
  let at = 0
  const first = text.charCodeAt(0)
  const negative = first === 45
  if (negative || first === 43) at = 1
  if (length - at <= 16) {
    let whole = 0
    let digits = 0
    let scale = -1
    for (; at < length; at++) {
      const code = text.charCodeAt(at)
      if (code >= 48 && code <= 57) {
        whole = whole * 10 + (code - 48)
        digits++
        if (scale >= 0) scale++
      } else if (code === decimal && scale < 0) scale = 0
      else if (code === 101 || code === 69) break
      // Anything else cannot stand in a number: most texts that begin like one, such as dates, end here.
      else return Number.NaN
    }
    if (at === length && digits > 0 && digits <= 15) {
      const value = scale > 0 ? whole / (EXACT_TENS[scale] as number) : whole
      return negative && value !== 0 ? -value : value
    }
    if (at === length && digits === 0) return Number.NaN
  }
  return parseGeneral(text, decimal)
}

function parseGeneral(text: string, decimal: number): number {
  if (decimal !== 46) {
    if (text.includes('.')) return Number.NaN
    text = text.replace(String.fromCharCode(decimal), '.')
  }
  if (!general.test(text)) return Number.NaN
  const value = Number(text)
  if (!Number.isFinite(value)) return Number.NaN
  if (Math.abs(value) >= LARGEST_WHOLE && wholeNumber.test(text) && beyondExact(BigInt(text.replace('+', '')))) return Number.NaN
  return value + 0
}

/**
 * The shortest text that reads back as the same number; what files get. Whole numbers beyond 2^53 have an exponent, without
 * which they would be read as text. Otherwise equal to String(value), which takes five times as long for numbers with few
 * decimals: a decimal of at most 15 digits that reads back as the number is the shortest there is.
 */
export function printNumber(value: number): string {
  const size = Math.abs(value)
  if (Number.isInteger(value)) return size > LARGEST_WHOLE ? value.toExponential() : String(value)
  if (!(size >= 1e-3 && size < 1e9)) return String(value)
  for (let decimals = 1; decimals <= 4; decimals++) {
    const ten = EXACT_TENS[decimals] as number
    const scaled = Math.round(size * ten)
    if (scaled / ten !== size) continue
    const whole = Math.floor(scaled / ten)
    const fraction = String(scaled - whole * ten)
    return `${value < 0 ? '-' : ''}${whole}.${LEADING_ZEROS[decimals - fraction.length] as string}${fraction}`
  }
  return String(value)
}

const LEADING_ZEROS = ['', '0', '00', '000']

/** A number as a reader sees it without a format: whole numbers up to 2^53 in full, others to 15 significant digits. */
export function displayNumber(value: number): string {
  if (Number.isInteger(value) && Math.abs(value) <= LARGEST_WHOLE) return String(value)
  return String(Number(value.toPrecision(15)))
}

function beyondExact(whole: bigint): boolean {
  return whole > 2n ** 53n || whole < -(2n ** 53n)
}
