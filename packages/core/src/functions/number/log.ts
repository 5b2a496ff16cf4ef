import { logarithm } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { pairKernel } from '../kernel-rows.js'

export const logGuide: FunctionGuide = {
  doc: 'The logarithm to a base; of a whole power of the base it is exact.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'log(81, 3)', gives: 4 },
    { formula: 'log(2, 0.5)', gives: -1 },
    { formula: 'log(5, 1)', fails: 'out-of-range' },
    { formula: 'log(-1, 2)', fails: 'out-of-range' },
  ],
}

export const log = defineFunction({
  name: 'log',
  family: 'number',
  signature: '(value: number, base: number) -> number',
  unit: 'plain',
  errors: ['out-of-range'],
  kernel: pairKernel(logarithm),
})
