import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const sin = defineFunction({
  name: 'sin',
  family: 'number',
  signature: '(angle: number) -> number',
  doc: 'The sine of an angle in radians.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'sin(0)', gives: 0 },
    { formula: 'round(sin(radians(30)), 6)', gives: 0.5 },
  ],
  kernel: numberKernel(Math.sin),
})
