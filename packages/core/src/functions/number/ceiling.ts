import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const ceiling = defineFunction({
  name: 'ceiling',
  family: 'number',
  signature: '(value: number) -> number',
  doc: 'The next whole number above, or the number itself if it is whole.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'ceiling(2.1)', gives: 3 },
    { formula: 'ceiling(-0.5)', gives: 0 },
  ],
  kernel: numberKernel(Math.ceil),
})
