/** Splits a number into two of at most 26 bits, whose products are exact (Veltkamp; Dekker 1971, "A floating-point technique"). */
const SPLITTER = 2 ** 27 + 1
/** Sizes between which no step of the division overflows or loses bits below the smallest number. */
const [SMALLEST, LARGEST] = [1e-250, 1e250]
/** A little more than one: what is left over is held against the rounding at this many times its size, so its own error is covered. */
const WIDENED = 1 + 2 ** -40

/**
 * (high + low) / count, rounded once, by error-free steps in binary64; NaN where these cannot tell, which is seldom.
 *
 * A quotient and its exact remainder (Dekker 1971) give a correction; the result is certain where the correction lies clearly on
 * one side of the point half way to the next number.
 *
 * @param count - a whole number from 1 to 2^53
 */
export function divideSum(high: number, low: number, count: number): number {
  const total = high + low
  const part = total - high
  const rest = high - (total - part) + (low - part)
  const size = Math.abs(total)
  if (!(size > SMALLEST && size < LARGEST)) return Number.NaN
  // A single number divided by another is rounded once by itself.
  if (rest === 0) return total / count
  const quotient = total / count
  const product = quotient * count
  const [quotientHigh, countHigh] = [upper(quotient), upper(count)]
  const [quotientLow, countLow] = [quotient - quotientHigh, count - countHigh]
  const error = product - quotientHigh * countHigh - quotientLow * countHigh - quotientHigh * countLow - quotientLow * countLow
  // The remainder of a quotient rounded to nearest is a binary64 number itself.
  const correction = (total - product + error + rest) / count
  const result = quotient + correction
  const leftOver = correction - (result - quotient)
  return result + leftOver * WIDENED === result ? result : Number.NaN
}

function upper(value: number): number {
  const scaled = SPLITTER * value
  return scaled - (scaled - value)
}
