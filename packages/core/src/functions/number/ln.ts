import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const ln = defineFunction({
  name: 'ln',
  family: 'number',
  signature: '(value: number) -> number',
  doc: 'The natural logarithm of a positive number.',
  blanks: 'a blank gives blank',
  errors: ['out-of-range'],
  examples: [
    { formula: 'ln(1)', gives: 0 },
    { formula: 'ln(0)', fails: 'out-of-range' },
  ],
  kernel: numberKernel(Math.log),
})
