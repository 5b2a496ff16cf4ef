import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { roundingKernel } from './rounding-kernel.js'

export const roundGuide: FunctionGuide = {
  doc: 'Rounds to so many decimal places (0 unless given), half away from zero, on the decimal that the number prints as.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'round(1.005, 2)', gives: 1.01 },
    { formula: 'round(-2.5)', gives: -3 },
    { formula: 'round(1250, -2)', gives: 1300 },
    { formula: 'round(1, 0.5)', fails: 'out-of-range' },
  ],
}

export const round = defineFunction({
  name: 'round',
  family: 'number',
  signature: '(value: number, digits?: number) -> number',
  unit: 'same',
  errors: ['out-of-range'],
  kernel: roundingKernel('nearest'),
})
