import { isoWeekOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { dayKernel } from '../kernel-rows.js'

export const weekGuide: FunctionGuide = {
  doc: 'The week of a date by ISO 8601, 1 to 53: weeks begin on Monday, and week 1 has the first Thursday of its year.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'week(@2026-03-14)', gives: 11 },
    { formula: 'week(@2027-01-01)', gives: 53 },
    { formula: 'week(@2024-12-30)', gives: 1 },
  ],
}

export const week = defineFunction({
  name: 'week',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  unit: 'plain',
  errors: [],
  kernel: dayKernel((epochDay) => isoWeekOf(epochDay).week),
})
