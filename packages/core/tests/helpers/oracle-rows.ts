import type { Decimal } from 'decimal.js'
import { FAULT_CODES } from '../../src/values/index.js'
import { exactly } from './oracle-across.js'
import {
  byCodePoint,
  DAY,
  display,
  type Failed,
  isFailed,
  type Known,
  number,
  type Result,
  text,
  truth,
} from './oracle-values.js'

/** Functions of several rows by decimal arithmetic with thousands of digits, each row looked at anew. */
type OfRow = (row: number) => Result
interface Key {
  readonly of: OfRow
  readonly descending: boolean
}

const rounded = (value: Decimal): Result => number(Number(value.toString()))
const ratio = (top: Decimal, bottom: Decimal): Result =>
  bottom.isZero() ? { fault: 'division-by-zero' } : rounded(top.div(bottom))
const sum = (values: readonly Decimal[]): Decimal => values.reduce((total, one) => total.plus(one), exactly(0))

function worst(results: readonly Result[]): Failed | null {
  const failed = results.filter(isFailed)
  const code = FAULT_CODES.find((one) => failed.some(({ fault }) => fault === one))
  return code === undefined ? null : { fault: code }
}

function order(a: Known, b: Known): number {
  return typeof a.value === 'string' ? byCodePoint(a.value, b.value as string) : Number(a.value) - Number(b.value)
}

function inOrder(rows: readonly number[], keys: readonly Key[]): number[] {
  return [...rows].sort((a, b) => {
    for (const { of, descending } of keys) {
      const [left, right] = [of(a), of(b)] as (Known | null)[]
      if (left === null || right === null) {
        if (left !== right) return left === null ? 1 : -1
        continue
      }
      const by = order(left as Known, right as Known)
      if (by !== 0) return descending ? -by : by
    }
    return a - b
  })
}

/** An aggregate over rows in row order. */
export function aggregateRows(
  name: string,
  rows: readonly number[],
  holds: OfRow,
  args: readonly OfRow[],
  keys: readonly Key[],
): Result {
  const taken = rows.filter((row) => {
    const of = holds(row)
    return of !== null && !isFailed(of) && of.value === true
  })
  const ofKeys = args.length === 0 ? [] : taken.flatMap((row) => keys.map((key) => key.of(row)))
  const picks = ['first', 'last', 'lookup', 'any', 'all'].includes(name)
  const ofValues = picks ? [] : taken.flatMap((row) => args.map((of) => of(row)))
  const early = worst([...rows.map(holds), ...ofKeys, ...ofValues])
  if (early !== null) return early
  if (name === 'count' && args.length === 0) return number(taken.length)
  const sorted = inOrder(taken, keys)
  const columns = args.map((of) => sorted.map(of))
  const [values = [], seconds = []] = columns
  if (name === 'first') return values.find((one) => one !== null) ?? null
  if (name === 'last') return [...values].reverse().find((one) => one !== null) ?? null
  if (name === 'lookup') return values.length > 1 ? { fault: 'many-matches' } : (values[0] ?? null)
  if (name === 'any' || name === 'all') {
    const deciding = name === 'any'
    if (values.some((one) => one !== null && !isFailed(one) && one.value === deciding)) return truth(deciding)
    return worst(values) ?? (values.some((one) => one !== null) ? truth(!deciding) : null)
  }
  const known = values.filter((one) => one !== null) as Known[]
  if (name === 'count') return number(known.length)
  if (name === 'count_distinct') return number(new Set(known.map(({ value }) => value)).size)
  if (known.length === 0) return null
  const ascending = [...known].sort(order)
  if (name === 'min') return ascending[0] as Known
  if (name === 'max') return ascending.at(-1) as Known
  if (name === 'mode') {
    const count = (one: Known): number => known.filter((other) => other.value === one.value).length
    return ascending.reduce((best, one) => (count(one) > count(best) ? one : best))
  }
  if (name === 'join_rows') {
    const separator = seconds
    return values.reduce<Result>((joined, one, index) => {
      if (one === null || separator[index] === null) return joined
      const part = display(one as Known)
      return joined === null
        ? text(part)
        : text(`${(joined as { value: string }).value}${(separator[index] as Known).value}${part}`)
    }, null)
  }
  const numbers = known.map((one) => exactly(one.value as number))
  const count = numbers.length
  if (name === 'sum') return rounded(sum(numbers))
  if (name === 'mean') return rounded(sum(numbers).div(count))
  if (name === 'median') return between(ascending, exactly(count - 1).div(2))
  if (name === 'percentile') {
    const p = exactly((seconds[0] as Known).value as number)
    return p.lt(0) || p.gt(1) ? { fault: 'out-of-range' } : between(ascending, p.times(count - 1))
  }
  if (name === 'variance' || name === 'stdev') {
    if (count < 2) return null
    const total = sum(numbers)
    const variance = sum(numbers.map((one) => one.times(one)))
      .times(count)
      .minus(total.times(total))
      .div(count * (count - 1))
    const of = rounded(variance)
    return name === 'variance' || isFailed(of) ? of : number(Math.sqrt((of as Known).value as number))
  }
  return fitted(name, values, seconds)
}

function between(ascending: readonly Known[], place: Decimal): Result {
  const low = place.floor().toNumber()
  const rest = place.minus(low)
  const from = exactly(ascending[low]?.value as number)
  return rest.isZero() ? rounded(from) : rounded(from.plus(rest.times(exactly(ascending[low + 1]?.value as number).minus(from))))
}

function fitted(name: string, ys: readonly Result[], xs: readonly Result[]): Result {
  const pairs = ys.flatMap((y, row) => {
    const x = xs[row] ?? null
    return y === null || x === null
      ? []
      : [[exactly((x as Known).value as number), exactly((y as Known).value as number)] as const]
  })
  if (pairs.length === 0) return null
  const n = exactly(pairs.length)
  const sumX = sum(pairs.map(([x]) => x))
  const sumY = sum(pairs.map(([, y]) => y))
  const xx = sum(pairs.map(([x]) => x.times(x)))
  const xy = sum(pairs.map(([x, y]) => x.times(y)))
  const yy = sum(pairs.map(([, y]) => y.times(y)))
  const together = n.times(xy).minus(sumX.times(sumY))
  const ofX = n.times(xx).minus(sumX.times(sumX))
  const ofY = n.times(yy).minus(sumY.times(sumY))
  if (name === 'slope') return ratio(together, ofX)
  if (name === 'intercept') return ratio(sumY.times(xx).minus(sumX.times(xy)), ofX)
  const squared = ratio(together.times(together), ofX.times(ofY))
  if (name === 'r_squared' || isFailed(squared)) return squared
  return number((together.lt(0) ? -1 : 1) * Math.sqrt((squared as Known).value as number))
}

/** An ordered function at a row, among the rows of its group. */
export function orderedRows(
  name: string,
  row: number,
  group: readonly number[],
  args: readonly OfRow[],
  orderBy: readonly Key[],
  isDescending: boolean,
): Result {
  const own = { rank: 0, dense_rank: 0, derivative: 1, integral: 1 }[name]
  const keys = own === undefined ? orderBy : [{ of: args[own] as OfRow, descending: isDescending }]
  const ofRow = keys.map((key) => key.of(row)).find(isFailed)
  if (ofRow !== undefined) return ofRow
  const rows = inOrder(
    group.filter((one) => !keys.some((key) => isFailed(key.of(one)))),
    keys,
  )
  const at = rows.indexOf(row)
  const [value, second] = args
  if (name === 'row_number') return number(at + 1)
  if (name === 'lag' || name === 'lead') {
    const by = second === undefined ? number(1) : second(row)
    if (by === null || isFailed(by)) return by
    const count = by.value as number
    if (!Number.isInteger(count) || count < 0) return { fault: 'out-of-range' }
    // Only that row is asked: a column may read its own earlier rows.
    const there = rows[name === 'lag' ? at - count : at + count]
    return there === undefined ? null : (value as OfRow)(there)
  }
  const values = value === undefined ? [] : rows.map(value)
  const upTo = values.slice(0, at + 1)
  const known = upTo.filter((one) => one !== null)
  if (name === 'difference') {
    const [now, before] = [values[at] as Result, values[at - 1] ?? null]
    const failed = [now, before].find(isFailed)
    if (failed !== undefined) return failed
    return now === null || before === null ? null : number(((now as Known).value as number) - ((before as Known).value as number))
  }
  if (name === 'rank' || name === 'dense_rank') {
    const mine = values[at] as Result
    if (mine === null) return null
    const before = (values.slice(0, at) as Known[]).filter((one) => one !== null && order(one, mine as Known) !== 0)
    return number((name === 'rank' ? before.length : new Set(before.map((one) => one.value)).size) + 1)
  }
  if (name.startsWith('moving')) {
    const width = (second as OfRow)(row)
    if (width === null || isFailed(width)) return width
    const count = width.value as number
    if (!Number.isInteger(count) || count < 1) return { fault: 'out-of-range' }
    return totalOf(name, upTo.slice(Math.max(0, at + 1 - count)))
  }
  if (name.startsWith('cumulative')) {
    if (name !== 'cumulative_count') return totalOf(name, upTo)
    return worst(upTo) ?? number(known.length)
  }
  return stepwise(name, rows, args, row)
}

function totalOf(name: string, results: readonly Result[]): Result {
  const failed = worst(results)
  if (failed !== null) return failed
  const known = results.filter((one) => one !== null) as Known[]
  if (known.length === 0) return null
  const total = sum(known.map((one) => exactly(one.value as number)))
  if (name.endsWith('sum')) return rounded(total)
  if (name.endsWith('mean')) return rounded(total.div(known.length))
  const sorted = [...known].sort(order)
  return (name.endsWith('min') ? sorted[0] : sorted.at(-1)) as Known
}

function stepwise(name: string, rows: readonly number[], args: readonly OfRow[], row: number): Result {
  const points = rows.flatMap((one) => {
    const [y, t] = args.map((of) => of(one)) as [Result, Result]
    return y === null || t === null ? [] : [{ row: one, y, t: t as Known }]
  })
  const at = points.findIndex((one) => one.row === row)
  if (at < 0) return null
  const tOf = (index: number): Decimal => {
    const { type, value } = (points[index] as { t: Known }).t
    return type === 'datetime' ? exactly(value as number).div(DAY) : exactly(value as number)
  }
  const yOf = (index: number): Decimal => exactly(((points[index] as { y: Result }).y as Known).value as number)
  if (name === 'integral') {
    const failed = worst(points.slice(0, at + 1).map(({ y }) => y))
    if (failed !== null) return failed
    let area = exactly(0)
    for (let index = 1; index <= at; index++)
      area = area.plus(
        yOf(index)
          .plus(yOf(index - 1))
          .times(tOf(index).minus(tOf(index - 1)))
          .div(2),
      )
    return rounded(area)
  }
  const first = Math.max(0, Math.min(at - 1, points.length - 3))
  const near = [first, first + 1, first + 2].filter((index) => index < points.length)
  const failed = worst(near.map((index) => (points[index] as { y: Result }).y))
  if (failed !== null) return failed
  if (near.length < 2) return null
  // The derivative of the polynomial through the points (Lagrange), at this one.
  let slope = exactly(0)
  for (const i of near) {
    let bottom = exactly(1)
    for (const j of near) if (j !== i) bottom = bottom.times(tOf(i).minus(tOf(j)))
    if (bottom.isZero()) return { fault: 'division-by-zero' }
    let top = exactly(0)
    for (const j of near) {
      if (j === i) continue
      let product = exactly(1)
      for (const k of near) if (k !== i && k !== j) product = product.times(tOf(at).minus(tOf(k)))
      top = top.plus(product)
    }
    slope = slope.plus(yOf(i).times(top).div(bottom))
  }
  return rounded(slope)
}
