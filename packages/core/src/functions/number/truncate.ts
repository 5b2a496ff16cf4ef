import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const truncateGuide: FunctionGuide = {
  doc: 'The whole part of a number: its fraction is dropped.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'truncate(2.9)', gives: 2 },
    { formula: 'truncate(-2.9)', gives: -2 },
  ],
}

export const truncate = defineFunction({
  name: 'truncate',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'same',
  errors: [],
  kernel: numberKernel(Math.trunc),
})
