import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const sinhGuide: FunctionGuide = {
  doc: 'The hyperbolic sine.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'sinh(0)', gives: 0 },
    { formula: 'round(sinh(1), 6)', gives: 1.175201 },
    { formula: 'sinh(1000)', fails: 'out-of-range' },
  ],
}

export const sinh = defineFunction({
  name: 'sinh',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'plain',
  errors: ['out-of-range'],
  kernel: numberKernel(Math.sinh),
})
