import type { Cell } from '../../columns/index.js'
import { CellFault, MS_PER_DAY, roundRatio, type ValueType } from '../../values/index.js'
import { numberCell, onOneScale } from '../aggregate/exact-rows.js'
import { firstFault } from '../aggregate/first-fault.js'

/** Rows where both y and t are filled, with their place among all. */
interface Point {
  readonly row: number
  readonly y: number | CellFault
  readonly t: number
}

function pointsOf([ys = [], ts = []]: readonly (readonly Cell[])[]): Point[] {
  return ts.flatMap((t, row) => {
    const y = ys[row] ?? null
    return typeof t === 'number' && (typeof y === 'number' || y instanceof CellFault) ? [{ row, y, t }] : []
  })
}

/** Units of t in what is meant by 1: a day in milliseconds for date-times. */
const perUnit = (type: ValueType | undefined): bigint => (type === 'datetime' ? BigInt(MS_PER_DAY) : 1n)

/** The slope of the parabola through up to three neighbouring points, at each point; of the line through two. */
export function derivatives(args: readonly (readonly Cell[])[], types: readonly ValueType[]): Cell[] {
  const results: Cell[] = (args[0] ?? []).map(() => null)
  const points = pointsOf(args)
  const unit = perUnit(types[1])
  for (const [index, { row }] of points.entries()) {
    const first = Math.max(0, Math.min(index - 1, points.length - 3))
    const near = points.slice(first, first + 3)
    results[row] = firstFault(near.map(({ y }) => y)) ?? slopeAt(near as readonly { y: number; t: number }[], index - first, unit)
  }
  return results
}

function slopeAt(points: readonly { readonly y: number; readonly t: number }[], at: number, unit: bigint): Cell {
  if (points.length < 2) return null
  const { whole: y, exponent: exponentY } = onOneScale(points.map((point) => point.y))
  const { whole: t, exponent: exponentT } = onOneScale(points.map((point) => point.t))
  const [y0, y1, y2] = y as [bigint, bigint, bigint]
  const [t0, t1, t2] = t as [bigint, bigint, bigint]
  const [h1, d1] = [t1 - t0, y1 - y0]
  const exponent = exponentY - exponentT
  const rounded = (top: bigint, bottom: bigint): Cell =>
    bottom === 0n ? new CellFault('division-by-zero') : numberCell(roundRatio(top * unit, bottom, exponent))
  if (points.length === 2) return rounded(d1, h1)
  const [h2, d2] = [t2 - t1, y2 - y1]
  const tops = [
    (2n * h1 + h2) * h2 * d1 - h1 * h1 * d2,
    h2 * h2 * d1 + h1 * h1 * d2,
    (h1 + 2n * h2) * h1 * d2 - h2 * h2 * d1,
  ] as const
  return rounded(tops[at] as bigint, h1 * h2 * (h1 + h2))
}

/** The area under the lines between neighbouring points, from the first one on. */
export function integrals(args: readonly (readonly Cell[])[], types: readonly ValueType[]): Cell[] {
  const results: Cell[] = (args[0] ?? []).map(() => null)
  const points = pointsOf(args)
  const { whole: y, exponent: exponentY } = onOneScale(points.map((point) => (typeof point.y === 'number' ? point.y : 0)))
  const { whole: t, exponent: exponentT } = onOneScale(points.map((point) => point.t))
  const bottom = 2n * perUnit(types[1])
  let area = 0n
  let fault: CellFault | null = null
  for (const [index, point] of points.entries()) {
    if (point.y instanceof CellFault) fault = firstFault(fault === null ? [point.y] : [fault, point.y])
    if (index > 0) area += ((y[index] as bigint) + (y[index - 1] as bigint)) * ((t[index] as bigint) - (t[index - 1] as bigint))
    results[point.row] = fault ?? numberCell(roundRatio(area, bottom, exponentY + exponentT))
  }
  return results
}
