import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const truncate = defineFunction({
  name: 'truncate',
  family: 'number',
  signature: '(value: number) -> number',
  doc: 'The whole part of a number: its fraction is dropped.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'truncate(2.9)', gives: 2 },
    { formula: 'truncate(-2.9)', gives: -2 },
  ],
  kernel: numberKernel(Math.trunc),
})
