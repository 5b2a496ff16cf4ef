import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { pairKernel } from '../kernel-rows.js'

export const atan2Guide: FunctionGuide = {
  doc: 'The angle in radians of the point (x, y), from −π to π.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'atan2(0, 1)', gives: 0 },
    { formula: 'round(degrees(atan2(1, -1)), 6)', gives: 135 },
  ],
}

export const atan2 = defineFunction({
  name: 'atan2',
  family: 'number',
  signature: '(y: number, x: number) -> number',
  unit: { gives: 'rad' },
  errors: [],
  kernel: pairKernel(Math.atan2),
})
