import { roundToStep } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { divisionKernel } from '../kernel-rows.js'

export const roundToGuide: FunctionGuide = {
  doc: 'The multiple of a step nearest to a number, half away from zero, both taken as the decimals they print as.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'round_to(7.3, 0.25)', gives: 7.25 },
    { formula: 'round_to(0.35, 0.1)', gives: 0.4 },
    { formula: 'round_to(-12, 5)', gives: -10 },
    { formula: 'round_to(12.5, 5)', gives: 15 },
    { formula: 'round_to(1, 0)', fails: 'division-by-zero' },
  ],
}

export const roundTo = defineFunction({
  name: 'round_to',
  family: 'number',
  signature: '(value: number, step: number) -> number',
  unit: 'alike',
  errors: ['division-by-zero'],
  kernel: divisionKernel(roundToStep),
})
