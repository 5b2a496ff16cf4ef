import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const floor = defineFunction({
  name: 'floor',
  family: 'number',
  signature: '(value: number) -> number',
  doc: 'The next whole number below, or the number itself if it is whole.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'floor(2.7)', gives: 2 },
    { formula: 'floor(-2.1)', gives: -3 },
  ],
  kernel: numberKernel(Math.floor),
})
