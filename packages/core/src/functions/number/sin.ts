import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const sinGuide: FunctionGuide = {
  doc: 'The sine of an angle in radians.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'sin(0)', gives: 0 },
    { formula: 'round(sin(radians(30)), 6)', gives: 0.5 },
  ],
}

export const sin = defineFunction({
  name: 'sin',
  family: 'number',
  signature: '(angle: number) -> number',
  unit: { takes: 'rad' },
  errors: [],
  kernel: numberKernel(Math.sin),
})
