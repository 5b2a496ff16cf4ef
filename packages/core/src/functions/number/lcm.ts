import { leastCommonMultiple } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { foldKernel } from './fold-kernel.js'

export const lcmGuide: FunctionGuide = {
  doc: 'The smallest whole number that all of some whole numbers divide.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'lcm(4, 6)', gives: 12 },
    { formula: 'lcm(0, 5)', gives: 0 },
    { formula: 'lcm(2, 3, 8)', gives: 24 },
    { formula: 'lcm(0.5, 3)', fails: 'out-of-range' },
  ],
}

export const lcm = defineFunction({
  name: 'lcm',
  family: 'number',
  signature: '(first: number, ...others: number) -> number',
  unit: 'alike',
  errors: ['out-of-range'],
  kernel: foldKernel(leastCommonMultiple),
})
