import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { roundingKernel } from './rounding-kernel.js'

export const roundUpGuide: FunctionGuide = {
  doc: 'Rounds away from zero to so many decimal places (0 unless given), on the decimal that the number prints as.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'round_up(2.1)', gives: 3 },
    { formula: 'round_up(-2.1)', gives: -3 },
    { formula: 'round_up(1.1, 1)', gives: 1.1 },
    { formula: 'round_up(1, 0.5)', fails: 'out-of-range' },
  ],
}

export const roundUp = defineFunction({
  name: 'round_up',
  family: 'number',
  signature: '(value: number, digits?: number) -> number',
  unit: 'same',
  errors: ['out-of-range'],
  kernel: roundingKernel('away'),
})
