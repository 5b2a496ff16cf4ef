import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const signGuide: FunctionGuide = {
  doc: '1 for a positive number, -1 for a negative one, 0 for zero.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'sign(-20)', gives: -1 },
    { formula: 'sign(0)', gives: 0 },
  ],
}

export const sign = defineFunction({
  name: 'sign',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'plain',
  errors: [],
  kernel: numberKernel(Math.sign),
})
