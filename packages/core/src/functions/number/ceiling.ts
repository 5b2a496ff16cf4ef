import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const ceilingGuide: FunctionGuide = {
  doc: 'The next whole number above, or the number itself if it is whole.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'ceiling(2.1)', gives: 3 },
    { formula: 'ceiling(-0.5)', gives: 0 },
  ],
}

export const ceiling = defineFunction({
  name: 'ceiling',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'same',
  errors: [],
  kernel: numberKernel(Math.ceil),
})
