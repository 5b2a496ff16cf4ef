import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const asinGuide: FunctionGuide = {
  doc: 'The angle in radians that has this sine, from −π/2 to π/2.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'asin(0)', gives: 0 },
    { formula: 'round(degrees(asin(1)), 6)', gives: 90 },
    { formula: 'asin(2)', fails: 'out-of-range' },
  ],
}

export const asin = defineFunction({
  name: 'asin',
  family: 'number',
  signature: '(value: number) -> number',
  unit: { gives: 'rad' },
  errors: ['out-of-range'],
  kernel: numberKernel(Math.asin),
})
