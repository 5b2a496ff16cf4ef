import { ExactSum, exactParts, roundRatio } from '../../values/index.js'
import type { Figure, RowShares } from './figure.js'

/** What one row has moved a figure by. */
export interface RowMove {
  /** Id of the row. */
  readonly row: number
  /** Its number now, or, for one that is not taken in any more, before. */
  readonly rowNumber: number
  /** Whether it was taken in before and is now, or only one of them. */
  readonly was: 'changed' | 'new' | 'gone'
  readonly change: number
}

/** What rows have moved a figure by: all of it, exactly, each part rounded once. */
export interface RowMoves {
  readonly table: string
  /** The difference of the two values, before either was rounded. */
  readonly difference: number
  /** Rows that moved it, those that moved it most first. */
  readonly rows: readonly RowMove[]
}

/** Whole numbers of the smallest binary64 number, so that sums and products of cells are exact. */
const UNIT = 1074n

/**
 * What rows account for of the difference between two figures of one formula; null where it is another formula, or no sum, count,
 * mean, share or quotient of such.
 *
 * With N and D the sums of what rows add to dividend and divisor, before (1) and after (2), a row moves N/D by (Δn·D1 − Δd·N1) / (D1·D2).
 * Over all rows these are N2/D2 − N1/D1: nothing is left over, and no row is looked at before another.
 */
export function movesBetween(before: Figure, after: Figure): RowMoves | null {
  const [one, other] = [before.rows, after.rows]
  if (one === null || other === null || before.formula !== after.formula || one.table !== other.table) return null
  const { parts, bottom } = exactMoves(one, other)
  const rounded = (top: bigint): number => roundRatio(top, bottom)
  const rows = parts.map(({ top, ...move }): RowMove => ({ ...move, change: rounded(top) }))
  rows.sort((a, b) => Math.abs(b.change) - Math.abs(a.change) || a.row - b.row)
  return { table: one.table, difference: rounded(parts.reduce((sum, { top }) => sum + top, 0n)), rows }
}

/** The moves as fractions over one divisor. */
export function exactMoves(
  one: RowShares,
  other: RowShares,
): { readonly parts: readonly (Omit<RowMove, 'change'> & { readonly top: bigint })[]; readonly bottom: bigint } {
  const whole = 1n << UNIT
  const [topBefore, bottomBefore] = [total(one, 'top'), one.isQuotient ? total(one, 'bottom') : whole]
  const bottomAfter = other.isQuotient ? total(other, 'bottom') : whole
  const times = other.times.reduce((product, number) => product * exact(number), 1n)
  const per = other.per.reduce((product, number) => product * exact(number), 1n)
  // Each number that is written out brings its unit along, above or below.
  const above = times << (UNIT * BigInt(other.per.length))
  const below = per << (UNIT * BigInt(other.times.length))
  const parts = [...new Set([...one.byRow.keys(), ...other.byRow.keys()])].flatMap((row) => {
    const [was, is] = [one.byRow.get(row), other.byRow.get(row)]
    const top = exact(is?.top ?? 0) - exact(was?.top ?? 0)
    const bottom = one.isQuotient ? exact(is?.bottom ?? 0) - exact(was?.bottom ?? 0) : 0n
    if (top === 0n && bottom === 0n) return []
    const { rowNumber } = (is ?? was) as { rowNumber: number }
    const kind = was === undefined ? ('new' as const) : is === undefined ? ('gone' as const) : ('changed' as const)
    return [{ row, rowNumber, was: kind, top: (top * bottomBefore - bottom * topBefore) * above }]
  })
  return { parts, bottom: bottomBefore * bottomAfter * below }
}

function total({ byRow }: RowShares, of: 'top' | 'bottom'): bigint {
  const sum = new ExactSum()
  for (const share of byRow.values()) sum.add(share[of])
  const { mantissa, exponent } = sum.exact()
  return mantissa << (BigInt(exponent) + UNIT)
}

function exact(value: number): bigint {
  const { mantissa, exponent } = exactParts(value)
  return mantissa << (BigInt(exponent) + UNIT)
}
