import { exactParts } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { divisionKernel } from '../kernel-rows.js'

export const quotientGuide: FunctionGuide = {
  doc: 'How many whole times the divisor goes into a number, toward zero.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'quotient(7, 2)', gives: 3 },
    { formula: 'quotient(-7, 2)', gives: -3 },
    { formula: 'quotient(1, 0)', fails: 'division-by-zero' },
  ],
}

export const quotient = defineFunction({
  name: 'quotient',
  family: 'number',
  signature: '(value: number, divisor: number) -> number',
  unit: 'ratio',
  errors: ['division-by-zero', 'out-of-range'],
  kernel: divisionKernel(wholeTimes),
})

/** How many whole times a divisor goes into a value, rounded once where that is beyond 2^53. */
function wholeTimes(value: number, divisor: number): number {
  const rest = value % divisor
  const multiple = value - rest
  // Where nothing was lost, this is a multiple of the divisor, so the division cannot reach the next whole number.
  if (value - multiple === rest) return Math.round(multiple / divisor)
  const [of, by] = [exactParts(value), exactParts(divisor)]
  const shift = of.exponent - by.exponent
  const whole = shift >= 0 ? (of.mantissa << BigInt(shift)) / by.mantissa : of.mantissa / (by.mantissa << BigInt(-shift))
  return Number(whole)
}
