import { printNumber } from '../values/index.js'

/**
 * The number of an interval with the fewest decimals, and of those the one that is roundest: 1.8 of [1.76, 1.84], 100 of
 * [81, 119].
 *
 * @returns null for an interval that is empty or not finite
 */
export function simplestNumber(low: number, high: number): number | null {
  if (!(low <= high && Number.isFinite(low) && Number.isFinite(high))) return null
  if (low <= 0 && high >= 0) return 0
  // With its first digit alone the larger end is a number below it, or there is none in the interval.
  const first = -Math.floor(Math.log10(Math.max(-low, high)))
  for (let digits = first; digits <= first + MOST_DIGITS; digits++) {
    const least = Math.ceil(scaled(low, digits))
    const most = Math.floor(scaled(high, digits))
    if (least > most) continue
    const round = roundest(least, most)
    const value = digits < 0 ? round * 10 ** -digits : round / 10 ** digits
    if (value >= low && value <= high) return value
  }
  return low === high ? low : null
}

/** Significant digits that are tried. */
const MOST_DIGITS = 15

/** A number times a power of ten, a hair's breadth of rounding taken off. */
function scaled(value: number, digits: number): number {
  const moved = digits < 0 ? value / 10 ** -digits : value * 10 ** digits
  const whole = Math.round(moved)
  return Math.abs(moved - whole) <= Math.abs(moved) * 1e-13 ? whole : moved
}

/** Of at most nine neighbouring whole numbers the one that people would take: five and two before others, else the middle one. */
function roundest(first: number, last: number): number {
  for (const wanted of [5, 2])
    for (let step = 0; step <= Math.min(9, last - first); step++)
      if (Math.abs((first + step) % 10) === wanted) return first + step
  return Math.round((first + last) / 2)
}

/** What a constant adds to the size of a program: little for one that people use anyway, more for each digit otherwise. */
export function costOfNumber(value: number): number {
  const size = Math.abs(value)
  if (size === 0 || size === 1) return 0.4
  if (COMMON.has(size)) return 0.6
  const digits = printNumber(size).replace(/^0\.0*|0+$|\./g, '').length
  return 0.5 + 0.45 * Math.max(1, digits) + (size < 1 || size % 1 !== 0 ? 0.2 : 0)
}

/** Numbers of everyday reckoning: scales, times, percentages. */
const COMMON = new Set([2, 7, 10, 12, 24, 30, 52, 60, 100, 365, 1000, 3600, 10_000, 100_000, 1_000_000, 0.5, 0.1, 0.01])
