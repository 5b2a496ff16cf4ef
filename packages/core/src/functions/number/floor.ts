import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const floorGuide: FunctionGuide = {
  doc: 'The next whole number below, or the number itself if it is whole.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'floor(2.7)', gives: 2 },
    { formula: 'floor(-2.1)', gives: -3 },
  ],
}

export const floor = defineFunction({
  name: 'floor',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'same',
  errors: [],
  kernel: numberKernel(Math.floor),
})
