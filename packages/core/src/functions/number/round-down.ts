import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { roundingKernel } from './rounding-kernel.js'

export const roundDownGuide: FunctionGuide = {
  doc: 'Rounds toward zero to so many decimal places (0 unless given), on the decimal that the number prints as.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'round_down(2.9)', gives: 2 },
    { formula: 'round_down(-2.9)', gives: -2 },
    { formula: 'round_down(0.29, 2)', gives: 0.29 },
    { formula: 'round_down(1, 0.5)', fails: 'out-of-range' },
  ],
}

export const roundDown = defineFunction({
  name: 'round_down',
  family: 'number',
  signature: '(value: number, digits?: number) -> number',
  unit: 'same',
  errors: ['out-of-range'],
  kernel: roundingKernel('toward'),
})
