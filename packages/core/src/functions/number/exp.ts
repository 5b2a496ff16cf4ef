import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const exp = defineFunction({
  name: 'exp',
  family: 'number',
  signature: '(value: number) -> number',
  doc: 'The number e to the power of another.',
  blanks: 'a blank gives blank',
  errors: ['out-of-range'],
  examples: [
    { formula: 'exp(0)', gives: 1 },
    { formula: 'exp(1000)', fails: 'out-of-range' },
  ],
  kernel: numberKernel(Math.exp),
})
