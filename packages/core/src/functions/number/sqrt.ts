import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const sqrt = defineFunction({
  name: 'sqrt',
  family: 'number',
  signature: '(value: number) -> number',
  doc: 'The square root.',
  blanks: 'a blank gives blank',
  errors: ['out-of-range'],
  examples: [
    { formula: 'sqrt(2.25)', gives: 1.5 },
    { formula: 'sqrt(-1)', fails: 'out-of-range' },
  ],
  kernel: numberKernel(Math.sqrt),
})
