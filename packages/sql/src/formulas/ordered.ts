import type { Checked } from 'mellow-abacus/model'
import { NoForm, numberOfFault } from '../dialects/index.js'
import { asStored, fragment, joined, literal, over, sql, type Term } from '../terms/index.js'
import { faultOf, firstFault, nothing, quotient, sum, unlessFault, type Value, valueFrom, WHOLE } from '../values/index.js'
import type { TableReading } from './reading.js'
import { framed, runningSum } from './running.js'
import { stepwise } from './stepwise.js'

type OverRows = Checked & { kind: 'over-rows' }

/** Names of the functions that look at neighbours and have a form: all of them. */
export const ORDERED_WITH_FORM: readonly string[] = [
  ...['row_number', 'rank', 'dense_rank', 'lag', 'lead', 'difference', 'derivative', 'integral'],
  ...['cumulative_sum', 'cumulative_mean', 'cumulative_min', 'cumulative_max', 'cumulative_count', 'moving_mean', 'moving_sum'],
]

/** The window that an ordered function looks through. */
interface Window {
  readonly text: Term
  /** The frame of functions that look at none. */
  readonly common: string
  /** The error of a row whose group or order is one. */
  readonly fault: Term | null
}

/** A function that looks at neighbours in an order, as a window function. */
export function orderedFunction(table: TableReading, node: OverRows): Value {
  const { record, args: given } = node
  if (record.name === 'derivative' || record.name === 'integral') return stepwise(table, node)
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
    const value = isText ? dialect.ordered(key.value) : asStored(key.value)
    return descending ? fragment`${value} desc nulls last` : fragment`${value} nulls last`
  })
  // What is ordered by already need not be ordered by again.
  const rest = isRank ? [] : table.rowKey.filter((one) => !order.some(({ key }) => key.value === one)).map(asStored)
  const all = [...keys, ...rest]
  const partition = parts.length === 0 ? fragment`` : fragment`partition by ${joined(parts, ', ')} `
  return { text: fragment`${partition}order by ${joined(all, ', ')}`, common: dialect.commonFrame, fault }
}

function calculate(table: TableReading, node: OverRows, args: readonly Value[], { text: window, common }: Window): Value {
  const unframed = fragment`${window}${common}`
  const { name } = node.record
  const { writing } = table.model
  const [x, second] = args as [Value, Value?]
  const whole = (write: Term): Value => valueFrom(sql`cast(${write} as float8)`, { size: WHOLE })
  const upTo = 'rows between unbounded preceding and current row'
  switch (name) {
    case 'row_number':
      return whole(over`row_number() over (${unframed})`)
    case 'rank':
    case 'dense_rank': {
      const place = over`${name}() over (${unframed})`
      return valueFrom(sql`case when ${x.value} is not null then cast(${place} as float8) end`, { size: WHOLE })
    }
    case 'lag':
    case 'lead':
      return neighbour(node, x, second, unframed)
    case 'difference': {
      const before = at(x, 'lag', 1, unframed)
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
  const summed = runningSum(writing, x, window, frame)
  if (kind === 'sum') return summed
  const count = valueFrom(sql`nullif(cast(${over`count(${x.value}) over (${window} ${frame})`} as float8), 0)`, { size: WHOLE })
  const mean = quotient(writing, summed, count, 'blank')
  return { ...mean, fault: firstFault([summed.fault, mean.fault]) }
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
