import type { Cell } from '../../columns/index.js'
import { CellFault, ExactSum, exactParts, roundRatio } from '../../values/index.js'
import type { Moments } from '../define.js'

/** A result as a cell: beyond binary64 it is out of range. */
export function numberCell(value: number): Cell {
  return Number.isFinite(value) ? value : new CellFault('out-of-range')
}

/** The numbers among cells without errors. */
export function numbersOfCells(cells: readonly Cell[]): number[] {
  return cells.filter((cell) => typeof cell === 'number')
}

/** The exact sum of numbers. */
export function exactSum(values: readonly number[]): ExactSum {
  const sum = new ExactSum()
  for (const value of values) sum.add(value)
  return sum
}

/** Numbers as whole multiples of one power of two, so that sums and products of them are exact. */
export function onOneScale(values: readonly number[]): { whole: bigint[]; exponent: number } {
  const parts = values.map(exactParts)
  const exponent = parts.reduce((least, one) => (one.mantissa === 0n ? least : Math.min(least, one.exponent)), 0)
  return { whole: parts.map((one) => (one.mantissa === 0n ? 0n : one.mantissa << BigInt(one.exponent - exponent))), exponent }
}

const total = (values: readonly bigint[]): bigint => values.reduce((sum, one) => sum + one, 0n)

/** The exact variance, n − 1 in the denominator; null below two values. */
export function varianceOf(values: readonly number[]): number | null {
  if (values.length < 2) return null
  const { whole, exponent } = onOneScale(values)
  const count = BigInt(whole.length)
  const squares = total(whole.map((one) => one * one))
  const sum = total(whole)
  return roundRatio(count * squares - sum * sum, count * (count - 1n), 2 * exponent)
}

/** The exact variance from exact sums, n − 1 in the denominator; null below two values. */
export function varianceOfMoments({ count, sum, squares }: Moments): number | null {
  if (count < 2) return null
  const n = BigInt(count)
  const exponent = Math.min(squares.exponent, 2 * sum.exponent)
  const ofSquares = n * (squares.mantissa << BigInt(squares.exponent - exponent))
  const ofSum = (sum.mantissa * sum.mantissa) << BigInt(2 * sum.exponent - exponent)
  return roundRatio(ofSquares - ofSum, n * (n - 1n), exponent)
}

/** Sums over pairs of numbers on one scale: what a straight line through them follows from. */
export interface PairSums {
  readonly count: bigint
  /** n Σxy − Σx Σy, n Σx² − (Σx)² and n Σy² − (Σy)². */
  readonly together: bigint
  readonly ofX: bigint
  readonly ofY: bigint
  readonly sumX: bigint
  readonly sumY: bigint
  readonly sumXY: bigint
  readonly sumXX: bigint
  /** Powers of two that a whole x and y stand for. */
  readonly exponentX: number
  readonly exponentY: number
}

/** The sums of the rows where both y and x are numbers; null where there are none. */
export function pairSums(ys: readonly Cell[], xs: readonly Cell[]): PairSums | null {
  const pairs = ys.flatMap((y, row) => {
    const x = xs[row]
    return typeof y === 'number' && typeof x === 'number' ? [{ x, y }] : []
  })
  if (pairs.length === 0) return null
  const { whole: wholeX, exponent: exponentX } = onOneScale(pairs.map(({ x }) => x))
  const { whole: wholeY, exponent: exponentY } = onOneScale(pairs.map(({ y }) => y))
  const count = BigInt(pairs.length)
  const [sumX, sumY] = [total(wholeX), total(wholeY)]
  const sumXX = total(wholeX.map((x) => x * x))
  const sumYY = total(wholeY.map((y) => y * y))
  const sumXY = total(wholeX.map((x, row) => x * (wholeY[row] as bigint)))
  return {
    count,
    together: count * sumXY - sumX * sumY,
    ofX: count * sumXX - sumX * sumX,
    ofY: count * sumYY - sumY * sumY,
    sumX,
    sumY,
    sumXY,
    sumXX,
    exponentX,
    exponentY,
  }
}

/** A ratio of whole numbers on scales, rounded once. */
export function scaledRatio(top: bigint, bottom: bigint, exponent: number): Cell {
  return bottom === 0n ? new CellFault('division-by-zero') : numberCell(roundRatio(top, bottom, exponent))
}
