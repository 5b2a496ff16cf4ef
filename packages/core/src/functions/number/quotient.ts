import { defineFunction } from '../define.js'
import { divisionKernel } from '../kernel-rows.js'

export const quotient = defineFunction({
  name: 'quotient',
  family: 'number',
  signature: '(value: number, divisor: number) -> number',
  doc: 'How many whole times the divisor goes into a number, toward zero.',
  blanks: 'any blank argument gives blank',
  errors: ['division-by-zero', 'out-of-range'],
  examples: [
    { formula: 'quotient(7, 2)', gives: 3 },
    { formula: 'quotient(-7, 2)', gives: -3 },
    { formula: 'quotient(1, 0)', fails: 'division-by-zero' },
  ],
  purposes: ['whole division', 'full boxes'],
  // value − rest is a multiple of the divisor, so the rounded division cannot reach the next whole number.
  kernel: divisionKernel((value, divisor) => Math.round((value - (value % divisor)) / divisor)),
})
