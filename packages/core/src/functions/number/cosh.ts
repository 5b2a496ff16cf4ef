import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const coshGuide: FunctionGuide = {
  doc: 'The hyperbolic cosine.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'cosh(0)', gives: 1 },
    { formula: 'round(cosh(1), 6)', gives: 1.543081 },
    { formula: 'cosh(1000)', fails: 'out-of-range' },
  ],
}

export const cosh = defineFunction({
  name: 'cosh',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'plain',
  errors: ['out-of-range'],
  kernel: numberKernel(Math.cosh),
})
