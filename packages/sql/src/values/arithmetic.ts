import { risky, sql, type Term } from '../terms/index.js'
import { canOverflow, clipped, type Magnitude, productSize, quotientSize, sumSize } from './magnitude.js'
import { faultOfKnown, faultOfMissing, firstFault, numberLiteral, strict, type Value } from './value.js'
import type { Writing } from './writing.js'

/** Sums whose parts are smaller than this are in range. */
const LARGEST_PART = 8e307

/** Sum or difference. */
export function sum(writing: Writing, a: Value, b: Value, sign: '+' | '-'): Value {
  const size = sumSize(a.size, b.size)
  const write = canOverflow(size) ? risky : sql
  const raw = write`(${a.value} ${sign} ${b.value})`
  // −0 − 0 and −0 + −0 are the only sums that are −0.
  const mayBeNegativeZero = a.mayBeNegativeZero && (sign === '-' || b.mayBeNegativeZero)
  if (!canOverflow(size)) return strict([a, b], raw, { size, mayBeNegativeZero })
  const { dialect } = writing
  const guards = [a, b]
    .filter((one) => one.size.high >= 1023)
    .map(({ value }) => sql`abs(${value}) < ${numberLiteral(LARGEST_PART)}`)
  const other = sign === '+' ? b.value : sql`(- ${b.value})`
  const value = dialect.failsBeyondRange
    ? sql`case when ${all(guards)} then ${raw} else ${writing.call('plus', a.value, other)} end`
    : sql`case when ${dialect.isFinite(raw)} then ${raw} end`
  return strict([a, b], value, { size: clipped(size), mayBeNegativeZero, own: faultOfMissing(value, [a, b], 'out-of-range') })
}

/** Product. */
export function product(writing: Writing, a: Value, b: Value): Value {
  const size = productSize(a.size, b.size)
  const write = canOverflow(size) || size.grain < -1074 ? risky : sql
  const raw = write`(${a.value} * ${b.value})`
  const value = guarded(writing, raw, size, size.grain, a, b, () => {
    const zero = sql`${a.value} = 0 and ${b.value} is not null or ${b.value} = 0 and ${a.value} is not null`
    return sql`case when ${zero} then 0 else ${writing.call('times', a.value, b.value)} end`
  })
  const own = canOverflow(size) ? faultOfMissing(value, [a, b], 'out-of-range') : null
  return strict([a, b], value, { size: clipped(size), mayBeNegativeZero: true, own })
}

/** Quotient; by zero it is an error, or blank. */
export function quotient(writing: Writing, a: Value, b: Value, byZero: 'fault' | 'blank'): Value {
  const isNeverZero = isNumberOtherThanZero(b.value)
  const size = quotientSize(a.size, b.size)
  const least = a.size.grain - b.size.high
  const write = canOverflow(size) || least < -1074 ? risky : sql
  const raw = isNeverZero ? write`(${a.value} / ${b.value})` : writing.dialect.unlessByZero(a.value, b.value, write)
  const value = guarded(writing, raw, size, least, a, b, () => {
    const call = writing.call('ratio', a.value, b.value)
    return sql`case when ${b.value} = 0 then null when ${a.value} = 0 and ${b.value} is not null then 0 else ${call} end`
  })
  const isZero = sql`${b.value} = 0`
  const faults: (Term | null)[] = []
  if (!isNeverZero && byZero === 'fault') faults.push(faultOfKnown(isZero, [a, b], 'division-by-zero'))
  if (canOverflow(size)) {
    const missing = faultOfMissing(value, [a, b], 'out-of-range')
    faults.push(
      isNeverZero || byZero === 'fault' || missing === null ? missing : sql`case when not (${isZero}) then ${missing} end`,
    )
  }
  return strict([a, b], value, { size: clipped(size), mayBeNegativeZero: true, own: firstFault(faults) })
}

/**
 * An operation on two numbers, kept from the ends of binary64.
 *
 * @param least - the exponent of the least result that is not zero
 * @param rare - what is calculated where an operand is so large or small that the operation may end the statement
 */
function guarded(writing: Writing, raw: Term, size: Magnitude, least: number, a: Value, b: Value, rare: () => Term): Term {
  const { dialect } = writing
  const overflows = canOverflow(size)
  if (!dialect.failsBeyondRange) return overflows ? sql`case when ${dialect.isFinite(raw)} then ${raw} end` : raw
  const underflows = least < -1074
  if (!overflows && !underflows) return raw
  const guards = [a, b].flatMap((one, index) => {
    const other = index === 0 ? b : a
    if (one.size.grain >= -60 && one.size.high <= 60) return []
    const limit = other.size.grain >= -60 && other.size.high <= 60 ? 900 : 500
    return [sql`abs(${one.value}) between ${numberLiteral(2 ** -limit)} and ${numberLiteral(2 ** limit)}`]
  })
  return sql`case when ${all(guards)} then ${raw} else ${rare()} end`
}

/** True for a number that is written out and is not zero. */
function isNumberOtherThanZero(term: Term): boolean {
  const written = term.isConstant ? /^'(-?[\d.e+-]+)'::float8$/.exec(term.text) : null
  return written !== null && Number(written[1]) !== 0
}

function all(conditions: readonly Term[]): Term {
  return conditions.reduce((left, right) => sql`${left} and ${right}`)
}
