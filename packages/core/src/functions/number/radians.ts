import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const radiansGuide: FunctionGuide = {
  doc: 'An angle in degrees, given in radians.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'radians(0)', gives: 0 },
    { formula: 'radians(180) = pi()', gives: true },
  ],
}

export const radians = defineFunction({
  name: 'radians',
  family: 'number',
  signature: '(degrees: number) -> number',
  unit: { takes: 'deg', gives: 'rad' },
  errors: [],
  kernel: numberKernel((degrees) => (degrees / 180) * Math.PI),
})
