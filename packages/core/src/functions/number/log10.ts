import { logarithm } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const log10Guide: FunctionGuide = {
  doc: 'The logarithm to base 10; of a power of ten it is exact.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'log10(1000)', gives: 3 },
    { formula: 'log10(0.001)', gives: -3 },
    { formula: 'log10(0)', fails: 'out-of-range' },
  ],
}

export const log10 = defineFunction({
  name: 'log10',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'plain',
  errors: ['out-of-range'],
  kernel: numberKernel((value) => logarithm(value, 10)),
})
