import { civilOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { dayKernel } from '../kernel-rows.js'

export const yearGuide: FunctionGuide = {
  doc: 'The year of a date.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'year(@2026-03-14)', gives: 2026 },
    { formula: 'year(@0001-01-01)', gives: 1 },
  ],
}

export const year = defineFunction({
  name: 'year',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  unit: 'plain',
  errors: [],
  kernel: dayKernel((epochDay) => civilOf(epochDay).year),
})
