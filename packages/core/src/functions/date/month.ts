import { civilOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { dayKernel } from '../kernel-rows.js'

export const monthGuide: FunctionGuide = {
  doc: 'The month of a date, 1 to 12.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'month(@2026-03-14)', gives: 3 },
    { formula: 'month(@9999-12-31T23:59:59)', gives: 12 },
  ],
}

export const month = defineFunction({
  name: 'month',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  unit: 'plain',
  errors: [],
  kernel: dayKernel((epochDay) => civilOf(epochDay).month),
})
