import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const tan = defineFunction({
  name: 'tan',
  family: 'number',
  signature: '(angle: number) -> number',
  doc: 'The tangent of an angle in radians.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'tan(0)', gives: 0 },
    { formula: 'round(tan(radians(45)), 6)', gives: 1 },
  ],
  kernel: numberKernel(Math.tan),
})
