import type { Checked } from 'mellow-abacus/model'
import { NoForm, numberOfFault } from '../dialects/index.js'
import { fragment, joined, literal, over, risky, sql, type Term } from '../terms/index.js'
import {
  faultOf,
  firstFault,
  isWholeSize,
  nothing,
  quotient,
  sum,
  UNBOUNDED,
  unlessFault,
  type Value,
  valueFrom,
  WHOLE,
} from '../values/index.js'
import type { TableReading } from './reading.js'

type OverRows = Checked & { kind: 'over-rows' }

/** The greatest part that is added as it is. */
const GREATEST_PART = literal("'1e290'::float8")

/** The window that an ordered function looks through. */
interface Window {
  readonly text: Term
  /** The error of a row whose group or order is one. */
  readonly fault: Term | null
}

/** A function that looks at neighbours in an order, as a window function. */
export function orderedFunction(table: TableReading, node: OverRows): Value {
  const { record, args: given } = node
  if (record.name === 'derivative' || record.name === 'integral') throw new NoForm(`${record.name}() has no form in SQL`)
  const args = given.map((one) => table.hidden(one))
  const [x] = args as [Value]
  const isRank = record.name === 'rank' || record.name === 'dense_rank'
  const order = isRank
    ? [{ key: x, descending: node.descending, isText: given[0]?.type === 'text' }]
    : node.order.map(({ key, descending }) => ({ key: table.hidden(key), descending, isText: key.type === 'text' }))
  const by = node.by.map((one) => table.hidden(one))
  const window = windowOf(table, by, order, isRank)
  const result = calculate(table, node, args, window)
  const fault = firstFault([window.fault, result.fault])
  const isApproximate = [...args, ...by, ...order.map(({ key }) => key)].some((one) => one.isApproximate) || result.isApproximate
  return { ...result, value: unlessFault(window.fault, result.value), fault, isApproximate }
}

function windowOf(
  table: TableReading,
  by: readonly Value[],
  order: readonly { key: Value; descending: boolean; isText: boolean }[],
  isRank: boolean,
): Window {
  const { dialect } = table.model.writing
  const fault = firstFault([faultOf(by), faultOf(order.map(({ key }) => key))])
  // Rows whose group or order is an error are left out, so they stand in a part of their own.
  const parts = [...by.map(({ value }) => value), ...(fault === null ? [] : [sql`(${fault} is not null)`])]
  const keys = order.map(({ key, descending, isText }) => {
    const value = isText ? dialect.ordered(key.value) : key.value
    return descending ? fragment`${value} desc nulls last` : fragment`${value} nulls last`
  })
  const all = isRank ? keys : [...keys, ...table.rowKey]
  const partition = parts.length === 0 ? fragment`` : fragment`partition by ${joined(parts, ', ')} `
  return { text: fragment`${partition}order by ${joined(all, ', ')}`, fault }
}

function calculate(table: TableReading, node: OverRows, args: readonly Value[], { text: window }: Window): Value {
  const { name } = node.record
  const { writing } = table.model
  const [x, second] = args as [Value, Value?]
  const whole = (write: Term): Value => valueFrom(sql`cast(${write} as float8)`, { size: WHOLE })
  const upTo = 'rows between unbounded preceding and current row'
  switch (name) {
    case 'row_number':
      return whole(over`row_number() over (${window})`)
    case 'rank':
    case 'dense_rank': {
      const place = over`${name}() over (${window})`
      return valueFrom(sql`case when ${x.value} is not null then cast(${place} as float8) end`, { size: WHOLE })
    }
    case 'lag':
    case 'lead':
      return neighbour(node, x, second, window)
    case 'difference': {
      const before = at(x, 'lag', 1, window)
      return sum(writing, x, before, '-')
    }
    case 'cumulative_count':
      return { ...framed(x, (value) => over`count(${value}) over (${window} ${upTo})`, window, upTo), size: WHOLE }
    default: {
      const isMoving = name.startsWith('moving')
      const count = isMoving ? constantCount(node) : 0
      if (count === null)
        return { ...valueFrom(nothing(writing, 'number')), fault: literal(String(numberOfFault('out-of-range'))) }
      const frame = isMoving ? `rows between ${count - 1} preceding and current row` : upTo
      return totalIn(table, name.split('_')[1] as string, x, window, frame)
    }
  }
}

/** The total of a frame: blanks add nothing, and an error in it shows. */
function totalIn(table: TableReading, kind: string, x: Value, window: Term, frame: string): Value {
  const { writing } = table.model
  if (kind === 'min' || kind === 'max')
    return framed(x, (value) => over`${kind}(${value}) over (${window} ${frame})`, window, frame)
  const summed = sumIn(table, x, window, frame)
  if (kind === 'sum') return summed
  const count = valueFrom(sql`nullif(cast(${over`count(${x.value}) over (${window} ${frame})`} as float8), 0)`, { size: WHOLE })
  const mean = quotient(writing, summed, count, 'blank')
  return { ...mean, fault: firstFault([summed.fault, mean.fault]) }
}

/** The sum of a frame. Parts so great that a sum of ordinary ones could end the statement are added apart, as decimals. */
function sumIn(table: TableReading, x: Value, window: Term, frame: string): Value {
  const { dialect } = table.model.writing
  if (isWholeSize(x.size)) {
    const [before, after] = dialect.wholeSum('#', ' over (@)').split('#') as [string, string]
    const [middle, end] = after.split('@') as [string, string]
    const total = framed(x, (value) => over`${before}${value}${middle}${window} ${frame}${end}`, window, frame)
    return { ...total, size: { grain: 0, high: 80 }, isApproximate: x.isApproximate }
  }
  const isOrdinary = x.size.high < 900
  const parts = framed(
    x,
    (value) => {
      const filter = dialect.failsBeyondRange && !isOrdinary ? fragment` filter (where abs(${value}) < ${GREATEST_PART})` : ''
      return over`sum(${value})${filter} over (${window} ${frame})`
    },
    window,
    frame,
  )
  const size = isOrdinary ? { grain: x.size.grain, high: x.size.high + 60 } : UNBOUNDED
  const result = { ...parts, size, isApproximate: true }
  if (isOrdinary) return result
  const ofRange = literal(String(numberOfFault('out-of-range')))
  if (!dialect.failsBeyondRange) {
    const fits = dialect.isFinite(parts.value)
    const own = sql`case when not ${fits} then ${ofRange} end`
    return { ...result, value: sql`case when ${fits} then ${parts.value} end`, fault: firstFault([parts.fault, own]) }
  }
  const great = over`sum(cast(${x.value} as numeric)) filter (where abs(${x.value}) >= ${GREATEST_PART}) over (${window} ${frame})`
  const total = sql`(${great} + cast(coalesce(${parts.value}, 0) as numeric))`
  const fits = sql`abs(${total}) < 1.797693134862315e308`
  const value = sql`case when ${great} is null then ${parts.value} when ${fits} then ${risky`cast(${total} as float8)`} end`
  const own = sql`case when not (${fits}) then ${ofRange} end`
  return { ...result, value: unlessFault(parts.fault, value), fault: firstFault([parts.fault, own]) }
}

/** A window function over what a value is in a frame, with the error that hides the others there. */
function framed(x: Value, write: (value: Term) => Term, window: Term, frame: string): Value {
  if (x.fault === null) return valueFrom(write(x.value), { size: x.size })
  const fault = over`min(${x.fault}) over (${window} ${frame})`
  return valueFrom(sql`case when ${fault} is null then ${write(x.value)} end`, { size: x.size, fault })
}

/** What a value is so many rows before or after. */
function at(x: Value, name: 'lag' | 'lead', count: number, window: Term): Value {
  const read = (term: Term): Term => over`${name}(${term}, ${count}) over (${window})`
  return { ...x, value: read(x.value), fault: x.fault === null ? null : read(x.fault) }
}

function neighbour(node: OverRows, x: Value, count: Value | undefined, window: Term): Value {
  const name = node.record.name as 'lag' | 'lead'
  if (count === undefined) return at(x, name, 1, window)
  const known = node.args[1]
  if (known?.kind !== 'constant') throw new NoForm(`${name}() has a form in SQL only where the number of rows is written out`)
  if (typeof known.value === 'number' && Number.isInteger(known.value) && known.value >= 0)
    return at(x, name, Math.min(known.value, 2_000_000_000), window)
  const fault = known.value === null ? null : literal(String(numberOfFault('out-of-range')))
  return { ...x, value: sql`nullif(${x.value}, ${x.value})`, fault }
}

/** The number of rows of a frame; null for one that there cannot be. */
function constantCount(node: OverRows): number | null {
  const known = node.args[1]
  if (known?.kind !== 'constant' || typeof known.value !== 'number')
    throw new NoForm(`${node.record.name}() has a form in SQL only where the number of rows is written out`)
  return Number.isInteger(known.value) && known.value >= 1 ? Math.min(known.value, 2_000_000_000) : null
}
