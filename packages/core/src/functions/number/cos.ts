import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const cos = defineFunction({
  name: 'cos',
  family: 'number',
  signature: '(angle: number) -> number',
  doc: 'The cosine of an angle in radians.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'cos(0)', gives: 1 },
    { formula: 'cos(blank)', gives: null },
  ],
  kernel: numberKernel(Math.cos),
})
