import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const cosGuide: FunctionGuide = {
  doc: 'The cosine of an angle in radians.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'cos(0)', gives: 1 },
    { formula: 'cos(blank)', gives: null },
  ],
}

export const cos = defineFunction({
  name: 'cos',
  family: 'number',
  signature: '(angle: number) -> number',
  unit: { takes: 'rad' },
  errors: [],
  kernel: numberKernel(Math.cos),
})
