import { LARGEST_WHOLE } from './whole.js'

/** The last whole number whose factorial is within binary64. */
const LARGEST_FACTORIAL = 170
/** Factorials found so far, exact and rounded; the same no matter who asks first. */
const exactFactorials: bigint[] = [1n]
const factorials: number[] = [1]

/** The greatest common divisor of whole numbers within ±2^53 (Euclid); NaN for others. gcd(0, 0) is 0. */
export function greatestCommonDivisor(left: number, right: number): number {
  if (!isExactWhole(left) || !isExactWhole(right)) return Number.NaN
  let a = Math.abs(left)
  let b = Math.abs(right)
  while (b !== 0) [a, b] = [b, a % b]
  return a
}

/** The least common multiple of whole numbers within ±2^53, rounded once when beyond; NaN for others. */
export function leastCommonMultiple(left: number, right: number): number {
  const divisor = greatestCommonDivisor(left, right)
  return divisor === 0 ? 0 : Math.abs(left / divisor) * Math.abs(right)
}

/** The product of the whole numbers up to `value`, rounded once; NaN where it is not a whole number from 0 on. */
export function factorial(value: number): number {
  if (!Number.isInteger(value) || value < 0) return Number.NaN
  if (value > LARGEST_FACTORIAL) return Number.POSITIVE_INFINITY
  while (factorials.length <= value) {
    const next = (exactFactorials.at(-1) as bigint) * BigInt(factorials.length)
    exactFactorials.push(next)
    factorials.push(Number(next))
  }
  return factorials[value] as number
}

function isExactWhole(value: number): boolean {
  return Number.isInteger(value) && Math.abs(value) <= LARGEST_WHOLE
}
