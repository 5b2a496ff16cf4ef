import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const radians = defineFunction({
  name: 'radians',
  family: 'number',
  signature: '(degrees: number) -> number',
  doc: 'An angle in degrees, given in radians.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'radians(0)', gives: 0 },
    { formula: 'radians(180) = pi()', gives: true },
  ],
  kernel: numberKernel((degrees) => (degrees / 180) * Math.PI),
})
