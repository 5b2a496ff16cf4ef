import { logarithm } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const log2Guide: FunctionGuide = {
  doc: 'The logarithm to base 2; of a power of two it is exact.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'log2(8)', gives: 3 },
    { formula: 'log2(0.125)', gives: -3 },
    { formula: 'log2(-8)', fails: 'out-of-range' },
  ],
}

export const log2 = defineFunction({
  name: 'log2',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'plain',
  errors: ['out-of-range'],
  kernel: numberKernel((value) => logarithm(value, 2)),
})
