import { civilOf, daysInMonth as lengthOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { dayKernel } from '../kernel-rows.js'

export const daysInMonthGuide: FunctionGuide = {
  doc: 'How many days the month of a date has.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'days_in_month(@2028-02-10)', gives: 29 },
    { formula: 'days_in_month(@1900-02-10)', gives: 28 },
  ],
}

export const daysInMonth = defineFunction({
  name: 'days_in_month',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  unit: { gives: 'd' },
  errors: [],
  kernel: dayKernel((epochDay) => {
    const { year, month } = civilOf(epochDay)
    return lengthOf(year, month)
  }),
})
