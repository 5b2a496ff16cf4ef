import { civilOf, dayOfCivil } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { dayKernel } from '../kernel-rows.js'

export const dayOfYearGuide: FunctionGuide = {
  doc: 'The number of a date in its year, 1 to 366.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'day_of_year(@2026-03-14)', gives: 73 },
    { formula: 'day_of_year(@2028-12-31)', gives: 366 },
  ],
}

export const dayOfYear = defineFunction({
  name: 'day_of_year',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  unit: 'plain',
  errors: [],
  kernel: dayKernel((epochDay) => epochDay - dayOfCivil(civilOf(epochDay).year, 1, 1) + 1),
})
