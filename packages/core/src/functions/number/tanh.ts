import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const tanhGuide: FunctionGuide = {
  doc: 'The hyperbolic tangent, between −1 and 1.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'tanh(0)', gives: 0 },
    { formula: 'tanh(1000)', gives: 1 },
  ],
}

export const tanh = defineFunction({
  name: 'tanh',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'plain',
  errors: [],
  kernel: numberKernel(Math.tanh),
})
