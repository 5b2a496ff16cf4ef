import type { Cell } from '../../columns/index.js'
import { CellFault, MS_PER_DAY, roundRatio } from '../../values/index.js'
import { numberCell, onOneScale } from './exact-rows.js'

/** Which coefficient of which polynomial. */
interface WantedCoefficient {
  readonly degree: number
  readonly k: number
  /** Whether x is days or milliseconds; null for plain numbers. */
  readonly time: 'date' | 'datetime' | null
}

/** Highest degree that is fitted. */
export const HIGHEST_DEGREE = 6

/**
 * A coefficient of the least-squares polynomial, exactly and rounded once; see `polynomialSums`.
 *
 * @returns blank for no more different x than the degree
 */
export function fitCoefficient(ys: readonly Cell[], xs: readonly Cell[], { degree, k, time }: WantedCoefficient): Cell {
  const isWhole = Number.isInteger(degree) && Number.isInteger(k)
  if (!isWhole || degree < 1 || degree > HIGHEST_DEGREE || k < 0 || k > degree) return new CellFault('out-of-range')
  const rows = ys.flatMap((y, row) => {
    const x = xs[row]
    return typeof y === 'number' && typeof x === 'number' ? [{ x, y }] : []
  })
  const sums = polynomialSums(rows, degree, time)
  return sums === null ? null : numberCell(coefficientOf(sums, k))
}

/** A polynomial that fits best, and how well. */
export interface PolynomialFit {
  /** By their powers, from the constant one. */
  readonly coefficients: readonly number[]
  /** Their standard errors; null where no row is left over. */
  readonly errors: readonly (number | null)[]
  /** The sum of the squares of what is left. */
  readonly leftSquares: number
  /** Which part of the sum of squares of y around its mean the polynomial accounts for; null where y is the same everywhere. */
  readonly rSquared: number | null
  /** The smallest x, from which times count. */
  readonly first: number
}

/**
 * The least-squares polynomial with all that is said of it, each figure from exact sums and rounded once; standard errors and
 * square roots then once more. Source: normal equations (Gauss), solved as `polynomialSums` says; the standard errors are those of
 * linear regression with independent errors of one variance.
 *
 * @returns null for no more different x than the degree
 */
export function fitPolynomial(
  rows: readonly { readonly x: number; readonly y: number }[],
  degree: number,
  time: WantedCoefficient['time'],
): PolynomialFit | null {
  const sums = polynomialSums(rows, degree, time)
  if (sums === null) return null
  const { bottom, size, squares, right, count, scaleX, scaleY, tops } = sums
  // What is left: Σy² − Σ bᵢ Σxⁱy, over the common denominator.
  const left = squares * bottom - tops.reduce((sum, top, i) => sum + top * (right[i] as bigint), 0n)
  const total = count * squares - (right[0] as bigint) ** 2n
  const free = count - BigInt(size)
  const errors = Array.from({ length: size }, (_, k) => {
    if (free <= 0n) return null
    // The variance of bₖ is s² times the k-th entry on the diagonal of the inverse, a ratio of determinants.
    const minor = determinant(without(sums.matrix, k))
    const perDay = sums.perDay ** BigInt(2 * k)
    return Math.sqrt(roundRatio(left * minor * perDay, free * bottom * bottom, 2 * (scaleY - k * scaleX)))
  })
  return {
    coefficients: Array.from({ length: size }, (_, k) => coefficientOf(sums, k)),
    errors,
    leftSquares: roundRatio(left, bottom, 2 * scaleY),
    rSquared: total === 0n ? null : roundRatio(total * bottom - left * count, total * bottom),
    first: sums.first,
  }
}

/** Exact sums of rows in whole numbers, and the coefficients as ratios. */
interface PolynomialSums {
  readonly size: number
  readonly count: bigint
  /** The matrix of the normal equations, and its determinant. */
  readonly matrix: readonly (readonly bigint[])[]
  readonly bottom: bigint
  /** The coefficients times `bottom`. */
  readonly tops: readonly bigint[]
  readonly right: readonly bigint[]
  readonly squares: bigint
  /** Powers of two that a whole x and y stand for. */
  readonly scaleX: number
  readonly scaleY: number
  /** What a whole x is divided by to be days. */
  readonly perDay: bigint
  readonly first: number
}

/**
 * The sums that a least-squares polynomial follows from: the normal equations in whole numbers, solved by Cramer's rule with
 * fraction-free elimination. Source: Bareiss, "Sylvester's identity and multistep integer-preserving Gaussian elimination"
 * (1968).
 *
 * @returns null for no more different x than the degree
 */
function polynomialSums(
  rows: readonly { readonly x: number; readonly y: number }[],
  degree: number,
  time: WantedCoefficient['time'],
): PolynomialSums | null {
  if (new Set(rows.map(({ x }) => x)).size <= degree) return null
  // Times count from the smallest, in days: whole milliseconds here, so that nothing is rounded on the way.
  const first = time === null ? 0 : rows.reduce((least, row) => Math.min(least, row.x), Number.POSITIVE_INFINITY)
  const x = onOneScale(rows.map((row) => row.x - first))
  const y = onOneScale(rows.map((row) => row.y))
  const size = degree + 1
  const powers: bigint[] = Array.from({ length: 2 * degree + 1 }, () => 0n)
  const right: bigint[] = Array.from({ length: size }, () => 0n)
  let squares = 0n
  for (const [row, of] of x.whole.entries()) {
    const value = y.whole[row] as bigint
    squares += value * value
    let power = 1n
    for (let index = 0; index < powers.length; index++) {
      powers[index] = (powers[index] as bigint) + power
      if (index < size) right[index] = (right[index] as bigint) + power * value
      power *= of
    }
  }
  const matrix = Array.from({ length: size }, (_, i) => powers.slice(i, i + size))
  const withRight = (column: number): bigint[][] =>
    matrix.map((row, i) => row.map((cell, j) => (j === column ? (right[i] as bigint) : cell)))
  return {
    size,
    count: BigInt(rows.length),
    matrix,
    bottom: determinant(matrix),
    tops: matrix.map((_, k) => determinant(withRight(k))),
    right,
    squares,
    scaleX: x.exponent,
    scaleY: y.exponent,
    perDay: time === 'datetime' ? BigInt(MS_PER_DAY) : 1n,
    first,
  }
}

function coefficientOf({ tops, bottom, perDay, scaleX, scaleY }: PolynomialSums, k: number): number {
  return roundRatio((tops[k] as bigint) * perDay ** BigInt(k), bottom, scaleY - k * scaleX)
}

/** A matrix without one row and the column of the same place. */
function without(matrix: PolynomialSums['matrix'], place: number): bigint[][] {
  return matrix.filter((_, i) => i !== place).map((row) => row.filter((_, j) => j !== place))
}

/** The determinant of a matrix of whole numbers; 1 of the empty one. */
function determinant(given: PolynomialSums['matrix']): bigint {
  if (given.length === 0) return 1n
  const matrix = given.map((row) => [...row])
  let sign = 1n
  let previous = 1n
  for (let step = 0; step < matrix.length - 1; step++) {
    const pivot = matrix.findIndex((row, index) => index >= step && row[step] !== 0n)
    if (pivot < 0) return 0n
    if (pivot !== step) {
      ;[matrix[step], matrix[pivot]] = [matrix[pivot] as bigint[], matrix[step] as bigint[]]
      sign = -sign
    }
    const top = matrix[step] as bigint[]
    for (const row of matrix.slice(step + 1)) {
      for (let column = matrix.length - 1; column >= step; column--)
        row[column] =
          ((row[column] as bigint) * (top[step] as bigint) - (row[step] as bigint) * (top[column] as bigint)) / previous
    }
    previous = top[step] as bigint
  }
  return sign * (matrix.at(-1)?.at(-1) as bigint)
}
