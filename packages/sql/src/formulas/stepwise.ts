import type { Checked } from 'mellow-abacus/model'
import { fragment, joined, over, sql, type Term } from '../terms/index.js'
import {
  dayOf,
  faultOf,
  faultOfKnown,
  firstFault,
  momentOf,
  nothing,
  numberLiteral,
  product,
  quotient,
  sizeOfNumber,
  sum,
  unlessFault,
  type Value,
  valueFrom,
  type Writing,
} from '../values/index.js'
import type { TableReading } from './reading.js'
import { runningSum } from './running.js'

type OverRows = Checked & { kind: 'over-rows' }

/** A point of a curve. */
interface Point {
  readonly y: Value
  readonly t: Value
}

const MS_PER_DAY = 86_400_000

/**
 * The derivative of a quantity over another, or its integral: by the rows that have both, in the order of the other. The
 * derivative is that of the parabola through three points, at the ends through the nearest three; the integral is made of
 * trapezoids.
 */
export function stepwise(table: TableReading, node: OverRows): Value {
  const { writing } = table.model
  const [y, given] = node.args.map((arg) => table.hidden(arg)) as [Value, Value]
  const t = asNumber(writing, given, (node.args[1] as Checked).type)
  const by = node.by.map((one) => table.hidden(one))
  const fault = firstFault([faultOf(by), t.fault])
  const isThere = y.fault === null ? sql`(${y.value} is not null)` : sql`(${y.value} is not null or ${y.fault} is not null)`
  const isPoint = sql`(${t.value} is not null and ${isThere}${fault === null ? fragment`` : fragment` and ${fault} is null`})`
  const parts = joined([...by.map(({ value }) => value), isPoint], ', ')
  const order = joined([t.value, ...table.rowKey], ', ')
  const window = fragment`partition by ${parts} order by ${order}`
  const near = (name: 'lag' | 'lead', count: number): Point => ({
    y: moved(y, name, count, window),
    t: moved(t, name, count, window),
  })
  const own = { y, t }
  const made =
    node.record.name === 'integral'
      ? integral(writing, own, near('lag', 1), window)
      : derivative(
          writing,
          own,
          { before: near('lag', 1), after: near('lead', 1), before2: near('lag', 2), after2: near('lead', 2) },
          window,
          parts,
        )
  const value = sql`case when ${isPoint} then ${unlessFault(made.fault, made.value)} end`
  const rest = made.fault === null ? null : sql`case when ${isPoint} then ${made.fault} end`
  return valueFrom(value, { fault: firstFault([fault, rest]), isApproximate: true, mayBeNegativeZero: true })
}

/** Dates as days, so that a derivative is per day. */
function asNumber(writing: Writing, t: Value, type: string): Value {
  if (type === 'date') return { ...t, value: dayOf(writing, t.value, 'date'), size: { grain: 0, high: 24 } }
  if (type !== 'datetime') return t
  return {
    ...t,
    value: sql`(${momentOf(writing, t.value, 'datetime')} / ${numberLiteral(MS_PER_DAY)})`,
    size: { grain: -60, high: 24 },
  }
}

function moved(of: Value, name: 'lag' | 'lead', count: number, window: Term): Value {
  const read = (term: Term): Term => over`${name}(${term}, ${count}) over (${window})`
  return { ...of, value: read(of.value), fault: of.fault === null ? null : read(of.fault) }
}

function integral(writing: Writing, own: Point, before: Point, window: Term): Value {
  const half = valueFrom(numberLiteral(0.5), { size: sizeOfNumber(0.5) })
  const area = product(writing, product(writing, sum(writing, own.y, before.y, '+'), sum(writing, own.t, before.t, '-')), half)
  const frame = 'rows between unbounded preceding and current row'
  // The error of the point before was found there.
  const failed = firstFault([
    own.y.fault,
    before.y.fault === null
      ? area.fault
      : sql`case when ${before.y.fault} is null then ${area.fault ?? sql`cast(null as int)`} end`,
  ])
  const total = runningSum(writing, { ...area, fault: failed }, window, frame)
  return { ...total, value: sql`coalesce(${total.value}, ${unlessFault(total.fault, sql`'0'::float8`)})` }
}

interface Neighbours {
  readonly before: Point
  readonly after: Point
  readonly before2: Point
  readonly after2: Point
}

function derivative(
  writing: Writing,
  own: Point,
  { before, after, before2, after2 }: Neighbours,
  window: Term,
  parts: Term,
): Value {
  const place = over`row_number() over (${window})`
  const count = over`count(*) over (partition by ${parts})`
  const two = slopeOf(writing, before, own)
  const twoAfter = slopeOf(writing, own, after)
  const inside = slopeAt(writing, own, [before, own, after])
  const first = slopeAt(writing, own, [own, after, after2])
  const last = slopeAt(writing, own, [before2, before, own])
  const choose = (of: (value: Value) => Term, none: Term): Term =>
    sql`case when ${count} < 2 then ${none} when ${count} = 2 and ${place} = 1 then ${of(twoAfter)} when ${count} = 2 then ${of(two)} when ${place} = 1 then ${of(first)} when ${place} = ${count} then ${of(last)} else ${of(inside)} end`
  const none = sql`cast(null as int)`
  return valueFrom(
    choose(({ value }) => value, nothing(writing, 'number')),
    { fault: choose(({ fault }) => fault ?? none, none) },
  )
}

function slopeOf(writing: Writing, a: Point, b: Point): Value {
  return quotient(writing, sum(writing, b.y, a.y, '-'), sum(writing, b.t, a.t, '-'), 'fault')
}

/** The derivative of the parabola through three points at one of them (Lagrange). */
function slopeAt(writing: Writing, at: Point, points: readonly [Point, Point, Point]): Value {
  const less = (a: Value, b: Value): Value => sum(writing, a, b, '-')
  const parts = points.map(({ y, t }, index) => {
    const [p, q] = points.filter((_, other) => other !== index) as [Point, Point]
    const top = sum(writing, less(at.t, p.t), less(at.t, q.t), '+')
    const bottom = product(writing, less(t, p.t), less(t, q.t))
    return quotient(writing, product(writing, y, top), bottom, 'fault')
  }) as [Value, Value, Value]
  const total = sum(writing, sum(writing, parts[0], parts[1], '+'), parts[2], '+')
  const [a, b, c] = points.map(({ t }) => t.value) as [Term, Term, Term]
  const isSame = sql`${a} = ${b} or ${b} = ${c} or ${a} = ${c}`
  const faults = points.map(({ y }) => y.fault)
  const some = faults.filter((one) => one !== null)
  const worst = some.length === 0 ? null : sql`least(${joined(some, ', ')})`
  const byZero = faultOfKnown(sql`(${isSame})`, [], 'division-by-zero')
  return { ...total, fault: firstFault([worst, byZero, total.fault]) }
}
