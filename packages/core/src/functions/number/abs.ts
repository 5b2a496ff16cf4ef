import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const absGuide: FunctionGuide = {
  doc: 'The size of a number without its sign.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'abs(-3.5)', gives: 3.5 },
    { formula: 'abs(blank)', gives: null },
  ],
}

export const abs = defineFunction({
  name: 'abs',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'same',
  errors: [],
  kernel: numberKernel(Math.abs),
})
