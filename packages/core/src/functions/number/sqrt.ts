import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const sqrtGuide: FunctionGuide = {
  doc: 'The square root.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'sqrt(2.25)', gives: 1.5 },
    { formula: 'sqrt(-1)', fails: 'out-of-range' },
  ],
}

export const sqrt = defineFunction({
  name: 'sqrt',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'root',
  errors: ['out-of-range'],
  kernel: numberKernel(Math.sqrt),
})
