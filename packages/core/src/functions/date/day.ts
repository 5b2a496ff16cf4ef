import { civilOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { dayKernel } from '../kernel-rows.js'

export const dayGuide: FunctionGuide = {
  doc: 'The day of the month of a date, 1 to 31.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'day(@2028-02-29)', gives: 29 },
    { formula: 'day(blank)', gives: null },
  ],
}

export const day = defineFunction({
  name: 'day',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  unit: 'plain',
  errors: [],
  kernel: dayKernel((epochDay) => civilOf(epochDay).day),
})
