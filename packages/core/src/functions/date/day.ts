import { civilOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import { dayKernel } from '../kernel-rows.js'

export const day = defineFunction({
  name: 'day',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  doc: 'The day of the month of a date, 1 to 31.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'day(@2028-02-29)', gives: 29 },
    { formula: 'day(blank)', gives: null },
  ],
  kernel: dayKernel((epochDay) => civilOf(epochDay).day),
})
