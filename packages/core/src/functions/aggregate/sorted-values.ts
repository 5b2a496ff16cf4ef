import type { Cell } from '../../columns/index.js'
import { compareText, exactParts, roundRatio, type Scalar } from '../../values/index.js'
import { numberCell } from './exact-rows.js'

/** The order of values of one type: numbers and dates by size, text by code point, false before true. */
function compareScalars(left: Scalar, right: Scalar): number {
  if (typeof left === 'string') return compareText(left, right as string)
  return Number(left) - Number(right)
}

/** Values without blanks and errors. */
export function valuesOf(cells: readonly Cell[]): Scalar[] {
  return cells.filter((cell) => cell !== null && typeof cell !== 'object') as Scalar[]
}

/** The first value of a kind in an order, or blank. */
export function extremeOf(cells: readonly Cell[], sign: 1 | -1): Cell {
  return valuesOf(cells).reduce<Scalar | null>(
    (best, value) => (best === null || sign * compareScalars(value, best) < 0 ? value : best),
    null,
  )
}

/**
 * The value at a place of sorted numbers, linear between two, exactly and rounded once.
 *
 * @param at - the number at a whole place
 * @param place - from 0, as a whole number over 2 ^ `bits`
 */
export function valueAtPlace(at: (place: number) => number, place: bigint, bits: number): Cell {
  const lower = Number(place >> BigInt(bits))
  const rest = place - (BigInt(lower) << BigInt(bits))
  const low = exactParts(at(lower))
  if (rest === 0n) return at(lower)
  const high = exactParts(at(lower + 1))
  const exponent = Math.min(low.exponent, high.exponent)
  const from = low.mantissa << BigInt(low.exponent - exponent)
  const to = high.mantissa << BigInt(high.exponent - exponent)
  const one = 1n << BigInt(bits)
  return numberCell(roundRatio(from * (one - rest) + to * rest, one, exponent))
}
