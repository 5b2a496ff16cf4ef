import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const degrees = defineFunction({
  name: 'degrees',
  family: 'number',
  signature: '(radians: number) -> number',
  doc: 'An angle in radians, given in degrees.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'degrees(0)', gives: 0 },
    { formula: 'degrees(pi())', gives: 180 },
  ],
  kernel: numberKernel((radians) => (radians / Math.PI) * 180),
})
