import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const abs = defineFunction({
  name: 'abs',
  family: 'number',
  signature: '(value: number) -> number',
  doc: 'The size of a number without its sign.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'abs(-3.5)', gives: 3.5 },
    { formula: 'abs(blank)', gives: null },
  ],
  kernel: numberKernel(Math.abs),
})
