import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const degreesGuide: FunctionGuide = {
  doc: 'An angle in radians, given in degrees.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'degrees(0)', gives: 0 },
    { formula: 'degrees(pi())', gives: 180 },
  ],
}

export const degrees = defineFunction({
  name: 'degrees',
  family: 'number',
  signature: '(radians: number) -> number',
  unit: { takes: 'rad', gives: 'deg' },
  errors: [],
  kernel: numberKernel((radians) => (radians / Math.PI) * 180),
})
