import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const tanGuide: FunctionGuide = {
  doc: 'The tangent of an angle in radians.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'tan(0)', gives: 0 },
    { formula: 'round(tan(radians(45)), 6)', gives: 1 },
  ],
}

export const tan = defineFunction({
  name: 'tan',
  family: 'number',
  signature: '(angle: number) -> number',
  unit: { takes: 'rad' },
  errors: [],
  kernel: numberKernel(Math.tan),
})
