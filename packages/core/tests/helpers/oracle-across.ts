import { Decimal } from 'decimal.js'
import type { Syntax } from '../../src/formula/index.js'
import { byCodePoint, isFailed, type Known, number, type Result, truth } from './oracle-values.js'

/** Digits enough for any sum or product of binary64 numbers to be exact, and for a quotient to be rounded right. */
const Exact = Decimal.clone({ precision: 2600, maxE: 9e15, minE: -9e15, toExpNeg: -9e15, toExpPos: 9e15 })
const names = ['sum_of', 'mean_of', 'median_of', 'min_of', 'max_of', 'count_of', 'any_of', 'all_of', 'weighted', 'points_of']

/** Columns behind the tags that random formulas use. */
export const TAGGED: Readonly<Record<string, readonly string[]>> = { scores: ['a', 'b'] }

type CallNode = Syntax & { kind: 'call' }

/** True for the functions that are evaluated here. */
export function isAcross(node: CallNode): boolean {
  return names.includes(node.name.name.toLowerCase())
}

/** Functions across one row, by decimal arithmetic with thousands of digits. */
export function acrossRow(
  node: CallNode,
  go: (node: Syntax) => Result,
  source: (node: Syntax) => string,
  column: (name: string) => Result,
): Result {
  const name = node.name.name.toLowerCase()
  const asZero = node.clauses.some((clause) => clause.kind === 'blanks as zero')
  const all = node.args.flatMap((arg) => {
    if (arg.kind === 'tag') return (TAGGED[arg.name] ?? []).map(column)
    return [arg.kind === 'rated' ? go(arg.value) : go(arg)]
  })
  const truths = all.filter((one) => one !== null)
  if (name === 'any_of' || name === 'all_of') {
    const deciding = name === 'any_of'
    if (truths.some((one) => !isFailed(one) && one.value === deciding)) return truth(deciding)
    return truths.find(isFailed) ?? (truths.length === 0 ? null : truth(!deciding))
  }
  const failed = all.find(isFailed)
  if (failed !== undefined) return failed
  const known = all.map((one) => (one === null && asZero ? { type: 'number' as const, value: 0 } : one)) as (Known | null)[]
  const present = known.filter((one) => one !== null)
  if (name === 'count_of') return number(present.length)
  if (present.length === 0) return null
  if (name === 'min_of' || name === 'max_of') {
    const order = (a: Known, b: Known): number =>
      typeof a.value === 'string' ? byCodePoint(a.value, b.value as string) : Number(a.value) - Number(b.value)
    return [...present].sort(order).at(name === 'min_of' ? 0 : -1) as Known
  }
  const numbers = present.map((one) => exactly(one.value as number))
  const sum = numbers.reduce((total, one) => total.plus(one), new Exact(0))
  if (name === 'sum_of') return number(rounded(sum))
  if (name === 'mean_of') return number(rounded(sum.div(numbers.length)))
  if (name === 'median_of') {
    const sorted = [...numbers].sort((a, b) => a.comparedTo(b))
    const [low, high] = [sorted[Math.ceil(sorted.length / 2) - 1], sorted[Math.floor(sorted.length / 2)]]
    return number(rounded((low as Decimal).plus(high as Decimal).div(2)))
  }
  const amounts = node.args.map((arg) => amountOf(arg, source))
  const isThere = (_: unknown, index: number): boolean => known[index] !== null
  const whole = amounts.reduce((total, one) => total.plus(one), new Exact(0))
  const part = amounts.filter(isThere).reduce((total, one) => total.plus(one), new Exact(0))
  if (part.isZero()) return { fault: 'division-by-zero' }
  const weighed = known.reduce(
    (total, one, index) =>
      one === null
        ? total
        : total.plus(exactly(one.value as number).times(name === 'weighted' ? (amounts[index] as Decimal) : 1)),
    new Exact(0),
  )
  return number(rounded(name === 'weighted' ? weighed.times(whole).div(part) : weighed.div(part)))
}

/** The number that the bits say, not the shortest decimal that it prints as. */
export function exactly(value: number): Decimal {
  const binary = new Exact(`0b${Math.abs(value).toString(2)}`)
  return value < 0 ? binary.negated() : binary
}

function amountOf(arg: Syntax, source: (node: Syntax) => string): Decimal {
  if (arg.kind !== 'rated') return new Exact(0)
  const written = source(arg.amount)
  return written.endsWith('%') ? new Exact(written.slice(0, -1)).div(100) : new Exact(written)
}

/** Reading a decimal text rounds it once, to the nearest binary64 number. */
function rounded(value: Decimal): number {
  return Number(value.toString())
}
