import { civilOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import { dayKernel } from '../kernel-rows.js'

export const month = defineFunction({
  name: 'month',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  doc: 'The month of a date, 1 to 12.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'month(@2026-03-14)', gives: 3 },
    { formula: 'month(@9999-12-31T23:59:59)', gives: 12 },
  ],
  kernel: dayKernel((epochDay) => civilOf(epochDay).month),
})
