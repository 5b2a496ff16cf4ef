import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const acosGuide: FunctionGuide = {
  doc: 'The angle in radians that has this cosine, from 0 to π.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'acos(1)', gives: 0 },
    { formula: 'round(degrees(acos(0)), 6)', gives: 90 },
    { formula: 'acos(-1.5)', fails: 'out-of-range' },
  ],
}

export const acos = defineFunction({
  name: 'acos',
  family: 'number',
  signature: '(value: number) -> number',
  unit: { gives: 'rad' },
  errors: ['out-of-range'],
  kernel: numberKernel(Math.acos),
})
