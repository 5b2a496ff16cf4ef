import { isoWeekOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { dayKernel } from '../kernel-rows.js'

export const isoYearGuide: FunctionGuide = {
  doc: 'The year that the week of a date belongs to by ISO 8601; around New Year it can be the year before or after.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'iso_year(@2026-03-14)', gives: 2026 },
    { formula: 'iso_year(@2027-01-01)', gives: 2026 },
    { formula: 'iso_year(@2024-12-30)', gives: 2025 },
  ],
}

export const isoYear = defineFunction({
  name: 'iso_year',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  unit: 'plain',
  errors: [],
  kernel: dayKernel((epochDay) => isoWeekOf(epochDay).year),
})
