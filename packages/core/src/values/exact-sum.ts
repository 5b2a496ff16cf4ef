import { divideSum } from './divide-sum.js'
import { type ExactParts, exactParts, roundRatio } from './exact-ratio.js'
import { LARGEST_WHOLE } from './whole.js'

/**
 * A sum of binary64 numbers that is the exact rational result rounded once, whatever their order.
 * Shewchuk, "Adaptive Precision Floating-Point Arithmetic" (1997): non-overlapping partials by error-free addition.
 * Values are taken in at 2^-64 of their size when they could overflow on the way.
 */
export class ExactSum {
  #partials: number[] = []
  /** Sum of the values of at least 2^960, scaled by 2^-128, so that 1e308 + 1e308 − 1e308 is 1e308. */
  #large: number[] = []

  /** Takes a finite number in. */
  add(value: number): void {
    if (Math.abs(value) >= LARGE) growPartials(this.#large, value * DOWN)
    else growPartials(this.#partials, value)
  }

  /** Begins again with nothing. */
  clear(): void {
    this.#partials.length = 0
    this.#large.length = 0
  }

  /**
   * The sum × `numerator` / `denominator`, rounded once. Most sums are a single number, and one division by a whole number
   * rounds once by itself; most of the others are two,
   * which divide by error-free steps; the rest go through whole-number arithmetic.
   *
   * @param denominator - a whole number, not zero
   */
  times(numerator: number, denominator: number): number {
    if (this.#large.length === 0 && this.#partials.length <= 1) {
      const single = this.#partials[0] ?? 0
      const isExact = numerator === 1 || (Number.isInteger(single) && Math.abs(single * numerator) <= LARGEST_WHOLE)
      if (isExact) return (single * numerator) / denominator + 0
    }
    if (numerator === 1 && this.#large.length === 0 && this.#partials.length === 2) {
      const divided = divideSum(this.#partials[1] as number, this.#partials[0] as number, denominator)
      if (!Number.isNaN(divided)) return divided
    }
    const { mantissa, exponent } = this.exact()
    return roundRatio(mantissa * BigInt(numerator), BigInt(denominator), exponent)
  }

  /** The sum as a whole number of some power of two. */
  exact(): ExactParts {
    let total = 0n
    const addAll = (partials: readonly number[], exponent: bigint): void => {
      for (const part of partials) {
        const { mantissa, exponent: of } = exactParts(part)
        total += mantissa << (BigInt(of) + exponent)
      }
    }
    addAll(this.#partials, 1074n)
    addAll(this.#large, 1074n + 128n)
    return { mantissa: total, exponent: -1074 }
  }

  /** The sum rounded to nearest, ties to even; ±Infinity when it lies beyond binary64. */
  result(): number {
    if (this.#large.length === 0) return roundPartials(this.#partials)
    // Small partials scaled down may lose bits below 2^-1074; those lie far below any rounding of a large sum unless
    // the large part cancels, and then the large partials are empty or zero.
    const large = roundPartials(this.#large)
    if (large === 0) return roundPartials(this.#partials)
    if (Math.abs(large) < LARGE * DOWN) {
      const partials = [...this.#partials]
      for (const part of this.#large) growPartials(partials, part / DOWN)
      return roundPartials(partials)
    }
    const together = [...this.#large]
    for (const part of this.#partials) growPartials(together, part * DOWN)
    const scaled = roundPartials(together)
    return Math.abs(scaled) > Number.MAX_VALUE * DOWN ? Math.sign(scaled) * Number.POSITIVE_INFINITY : scaled / DOWN
  }
}

const LARGE = 2 ** 960
const DOWN = 2 ** -128

function growPartials(partials: number[], value: number): void {
  let kept = 0
  for (let part of partials) {
    if (Math.abs(value) < Math.abs(part)) [value, part] = [part, value]
    const high = value + part
    const low = part - (high - value)
    if (low !== 0) partials[kept++] = low
    value = high
  }
  partials.length = kept
  partials.push(value)
}

/** Rounds non-overlapping partials (smallest first) once, half-way cases decided by what lies below. */
function roundPartials(partials: readonly number[]): number {
  let at = partials.length - 1
  if (at < 0) return 0
  let high = partials[at--] as number
  let low = 0
  while (at >= 0) {
    const sum = high
    const part = partials[at--] as number
    high = sum + part
    low = part - (high - sum)
    if (low !== 0) break
  }
  const next = at >= 0 ? (partials[at] as number) : 0
  if ((low < 0 && next < 0) || (low > 0 && next > 0)) {
    const doubled = low * 2
    const rounded = high + doubled
    if (doubled === rounded - high) return rounded + 0
  }
  return high + 0
}

/** The exact sum of numbers, rounded once. */
export function exactSum(numbers: Iterable<number>): number {
  const sum = new ExactSum()
  for (const number of numbers) sum.add(number)
  return sum.result()
}
