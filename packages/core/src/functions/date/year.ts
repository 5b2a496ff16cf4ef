import { civilOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import { dayKernel } from '../kernel-rows.js'

export const year = defineFunction({
  name: 'year',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  doc: 'The year of a date.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'year(@2026-03-14)', gives: 2026 },
    { formula: 'year(@0001-01-01)', gives: 1 },
  ],
  kernel: dayKernel((epochDay) => civilOf(epochDay).year),
})
