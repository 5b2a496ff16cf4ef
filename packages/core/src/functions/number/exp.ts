import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const expGuide: FunctionGuide = {
  doc: 'The number e to the power of another.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'exp(0)', gives: 1 },
    { formula: 'exp(1000)', fails: 'out-of-range' },
  ],
}

export const exp = defineFunction({
  name: 'exp',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'plain',
  errors: ['out-of-range'],
  kernel: numberKernel(Math.exp),
})
