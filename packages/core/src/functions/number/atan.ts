import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const atanGuide: FunctionGuide = {
  doc: 'The angle in radians that has this tangent, between −π/2 and π/2.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'atan(0)', gives: 0 },
    { formula: 'round(degrees(atan(1)), 6)', gives: 45 },
  ],
}

export const atan = defineFunction({
  name: 'atan',
  family: 'number',
  signature: '(value: number) -> number',
  unit: { gives: 'rad' },
  errors: [],
  kernel: numberKernel(Math.atan),
})
