import { fragment, joined, literal, sql, type Term } from '../terms/index.js'
import {
  faultOf,
  faultWhen,
  firstFault,
  isWholeSize,
  numberLiteral,
  product,
  quotient,
  strict,
  sum,
  unlessFault,
  type Value,
  valueFrom,
  WHOLE,
  type Writing,
} from '../values/index.js'
import type { FunctionCall, FunctionForm } from './form.js'

/** The arguments, blanks as zero where that is asked for. */
function taken({ args, blanksAsZero }: FunctionCall): readonly Value[] {
  if (!blanksAsZero) return args
  return args.map((one) => {
    const zero = sql`coalesce(${one.value}, '0'::float8)`
    return { ...one, value: one.fault === null ? zero : sql`case when ${one.fault} is null then ${zero} end` }
  })
}

const isPresent = ({ value }: Value): Term => sql`(${value} is not null)`

/** How many of the arguments are not blank. */
function countOf(args: readonly Value[]): Term {
  return sql`(${joined(
    args.map((one) => sql`case when ${isPresent(one)} then '1'::float8 else '0'::float8 end`),
    ' + ',
  )})`
}

/** The sum of those that are not blank; blank where all are. */
function sumOf(writing: Writing, args: readonly Value[]): Value {
  const parts = args.map((one) => ({ ...one, value: sql`coalesce(${one.value}, '0'::float8)` }))
  const total = parts.slice(1).reduce((left, one) => sum(writing, left, one, '+'), { ...(parts[0] as Value), fault: null })
  const isAny = joined(args.map(isPresent), ' or ')
  const value = args.length === 0 ? literal('cast(null as float8)') : sql`case when ${isAny} then ${total.value} end`
  // Two numbers are rounded once, and whole ones not at all; more of them would be rounded more than once.
  const isExact = args.length <= 2 || isWholeSize(total.size)
  const faults = firstFault([...args.map(({ fault }) => fault), total.fault])
  return { ...total, value: unlessFault(faultOf(args), value), fault: faults, isApproximate: total.isApproximate || !isExact }
}

function extreme(name: 'least' | 'greatest'): FunctionForm {
  return (call) => {
    const args = taken(call)
    const isText = call.type === 'text'
    const values = args.map(({ value }) => (isText ? call.writing.dialect.ordered(value) : value))
    const value = sql`${name}(${joined(values, ', ')})`
    const faults = args.map(({ fault }) => fault)
    const fault = firstFault(faults)
    // What is an error is null, and so would be left out.
    const whole = fault === null ? value : sql`case when ${fault} is null then ${value} end`
    return strict(args, whole, { mayBeNegativeZero: args.some((one) => one.mayBeNegativeZero) })
  }
}

/** `or` and `and` over what is not blank. */
function truths(deciding: boolean): FunctionForm {
  return ({ args }) => {
    const decides = joined(
      args.map(({ value }) => (deciding ? value : sql`(not ${value})`)),
      ' or ',
    )
    const fault = firstFault(args.map((one) => one.fault))
    const isAny = joined(args.map(isPresent), ' or ')
    const rest = fragment`when ${isAny} then ${String(!deciding)}`
    const blocked = fault === null ? fragment`` : fragment` when ${fault} is not null then null`
    const value = sql`case when ${decides} then ${String(deciding)}${blocked} ${rest} end`
    const own = fault === null ? null : sql`case when (${decides}) then null else ${fault} end`
    return valueFrom(value, { fault: own, isApproximate: args.some((one) => one.isApproximate) })
  }
}

/** The weights or possible points as numbers. */
const amountOf = ({ digits, scale }: { digits: bigint; scale: number }): number => Number(`${digits}e-${scale}`)

function rated(kind: 'weights' | 'points'): FunctionForm {
  return (call) => {
    const { writing } = call
    const args = taken(call)
    const amounts = call.amounts.map(amountOf)
    const whole = amounts.reduce((total, one) => total + one, 0)
    const present = sql`(${joined(
      args.map(
        (one, index) => sql`case when ${isPresent(one)} then ${numberLiteral(amounts[index] as number)} else '0'::float8 end`,
      ),
      ' + ',
    )})`
    const weighed = sumOf(
      writing,
      args.map((one, index) => {
        if (kind === 'points') return one
        const amount = amounts[index] as number
        return product(writing, one, valueFrom(numberLiteral(amount), { size: { grain: -60, high: 60 } }))
      }),
    )
    const top =
      kind === 'points' ? weighed : product(writing, weighed, valueFrom(numberLiteral(whole), { size: { grain: -60, high: 60 } }))
    const ratio = quotient(writing, top, valueFrom(present, { size: { grain: -60, high: 60 } }), 'fault')
    const isAny = joined(args.map(isPresent), ' or ')
    const own = faultWhen(sql`(${isAny}) and ${present} = 0`, 'division-by-zero')
    const fault = firstFault([...args.map((one) => one.fault), own, ratio.fault])
    return { ...ratio, fault, isApproximate: true }
  }
}

/** Functions across the columns of a row. */
export const ACROSS_FORMS: Readonly<Record<string, FunctionForm>> = {
  count_of: (call) => {
    const args = taken(call)
    return strict(args, unlessFault(faultOf(args), countOf(args)), { size: WHOLE })
  },
  sum_of: (call) => sumOf(call.writing, taken(call)),
  mean_of: (call) => {
    const args = taken(call)
    const total = sumOf(call.writing, args)
    const count = valueFrom(sql`nullif(${countOf(args)}, 0)`, { size: { grain: 0, high: 16 } })
    const mean = quotient(call.writing, total, count, 'blank')
    // A sum that is out of range may have a mean that is not.
    const isExact = args.length <= 2 && args.every(({ size }) => size.high < 1023)
    return { ...mean, isApproximate: total.isApproximate || !isExact }
  },
  min_of: extreme('least'),
  max_of: extreme('greatest'),
  any_of: truths(true),
  all_of: truths(false),
  weighted: rated('weights'),
  points_of: rated('points'),
  blank_if: ({ args }) => {
    const [x, unwanted] = args as [Value, Value]
    const fault = firstFault([x.fault, unwanted.fault])
    const value = sql`nullif(${x.value}, ${unwanted.value})`
    return { ...x, value: unlessFault(fault, value), fault, isApproximate: x.isApproximate || unwanted.isApproximate }
  },
}
