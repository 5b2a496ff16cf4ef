import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const tanh = defineFunction({
  name: 'tanh',
  family: 'number',
  signature: '(value: number) -> number',
  doc: 'The hyperbolic tangent, between −1 and 1.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'tanh(0)', gives: 0 },
    { formula: 'tanh(1000)', gives: 1 },
  ],
  kernel: numberKernel(Math.tanh),
})
