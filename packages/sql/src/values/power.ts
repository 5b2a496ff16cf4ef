import type { Scalar } from 'mellow-abacus'
import { NoForm } from '../dialects/index.js'
import { sql, type Term } from '../terms/index.js'
import { product, quotient } from './arithmetic.js'
import { sizeOfNumber } from './magnitude.js'
import { faultOfKnown, faultOfMissing, faultWhen, firstFault, numberLiteral, strict, type Value, valueFrom } from './value.js'
import type { Writing } from './writing.js'

/** Whole exponents up to here are multiplied out in the statement. */
const MOST_WRITTEN_OUT = 32

/**
 * A power. A whole exponent that is written out multiplies out by squaring, as the language has it.
 *
 * @param known - the exponent, where it is written out
 */
export function power(writing: Writing, base: Value, exponent: Value, known: Scalar | null | undefined): Value {
  if (typeof known === 'number' && Number.isInteger(known) && Math.abs(known) <= MOST_WRITTEN_OUT)
    return writtenOut(writing, base, known)
  if (!('power_of' in writing.dialect.helpers))
    throw new NoForm('an exponent that is not a whole number written in the formula has no form in SQL')
  const value = writing.call('power_of', base.value, exponent.value)
  const isZero = sql`${base.value} = 0 and ${exponent.value} < 0`
  const own = firstFault([
    faultOfKnown(isZero, [base, exponent], 'division-by-zero'),
    faultOfMissing(value, [base, exponent], 'out-of-range'),
  ])
  const isWhole = typeof known === 'number' && Number.isInteger(known)
  const { isApproximate } = strict([base, exponent], value)
  return strict([base, exponent], value, { own, mayBeNegativeZero: true, isApproximate: isApproximate || !isWhole })
}

function writtenOut(writing: Writing, base: Value, exponent: number): Value {
  if (exponent === 0)
    return strict([base], sql`case when ${base.value} is not null then ${numberLiteral(1)} end`, { size: sizeOfNumber(1) })
  const size = Math.abs(exponent)
  const whole = bySquaring(writing, base, size)
  if (exponent > 0) return whole
  const one = valueFrom(numberLiteral(1), { size: sizeOfNumber(1) })
  const reciprocal = quotient(writing, one, whole, 'fault')
  // Where the power is out of range its reciprocal may not be: it is taken in two halves.
  const half = Math.floor(size / 2)
  const first = quotient(writing, one, bySquaring(writing, base, half), 'fault')
  const halved = half === 0 ? null : quotient(writing, first, bySquaring(writing, base, size - half), 'fault')
  const isZero: Term = sql`${base.value} = 0`
  const byZero = faultWhen(isZero, 'division-by-zero')
  if (halved === null || whole.fault === null) return { ...reciprocal, fault: firstFault([base.fault, byZero, reciprocal.fault]) }
  // Its own overflow is no error of the reciprocal, which is near zero then.
  const value = sql`case when ${whole.value} is not null then ${reciprocal.value} when not (${isZero}) then ${halved.value} end`
  return strict([base], value, {
    own: firstFault([byZero, faultOfMissing(value, [base], 'out-of-range')]),
    mayBeNegativeZero: true,
  })
}

function bySquaring(writing: Writing, base: Value, exponent: number): Value {
  let result: Value | null = null
  let square = base
  for (let rest = exponent; ; ) {
    if (rest % 2 === 1) result = result === null ? square : product(writing, result, square)
    rest = Math.floor(rest / 2)
    if (rest === 0) return result ?? square
    square = product(writing, square, square)
  }
}
