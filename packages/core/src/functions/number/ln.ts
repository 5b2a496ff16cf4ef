import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const lnGuide: FunctionGuide = {
  doc: 'The natural logarithm of a positive number.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'ln(1)', gives: 0 },
    { formula: 'ln(0)', fails: 'out-of-range' },
  ],
}

export const ln = defineFunction({
  name: 'ln',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'plain',
  errors: ['out-of-range'],
  kernel: numberKernel(Math.log),
})
