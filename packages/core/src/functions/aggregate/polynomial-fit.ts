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
const HIGHEST_DEGREE = 6

/**
 * A coefficient of the least-squares polynomial, exactly and rounded once: the normal equations in whole numbers, solved by
 * fraction-free elimination. Source: Bareiss, "Sylvester's identity and multistep integer-preserving Gaussian elimination"
 * (1968).
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
  if (new Set(rows.map(({ x }) => x)).size <= degree) return null
  // Times count from the smallest, in days: whole milliseconds here, so that nothing is rounded on the way.
  const first = time === null ? 0 : rows.reduce((least, row) => Math.min(least, row.x), Number.POSITIVE_INFINITY)
  const x = onOneScale(rows.map((row) => row.x - first))
  const perDay = time === 'datetime' ? BigInt(MS_PER_DAY) ** BigInt(k) : 1n
  const y = onOneScale(rows.map((row) => row.y))
  const size = degree + 1
  const powers: bigint[] = Array.from({ length: 2 * degree + 1 }, () => 0n)
  const right: bigint[] = Array.from({ length: size }, () => 0n)
  for (const [row, of] of x.whole.entries()) {
    let power = 1n
    for (let index = 0; index < powers.length; index++) {
      powers[index] = (powers[index] as bigint) + power
      if (index < size) right[index] = (right[index] as bigint) + power * (y.whole[row] as bigint)
      power *= of
    }
  }
  // By Cramer's rule the coefficient of the whole x is a ratio of two determinants.
  const matrix = (column: number | null): bigint[][] =>
    Array.from({ length: size }, (_, i) =>
      Array.from({ length: size }, (_, j) => (j === column ? right[i] : powers[i + j]) as bigint),
    )
  const bottom = determinant(matrix(null))
  return numberCell(roundRatio(determinant(matrix(k)) * perDay, bottom, y.exponent - k * x.exponent))
}

/** The determinant of a matrix of whole numbers. */
function determinant(matrix: bigint[][]): bigint {
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
