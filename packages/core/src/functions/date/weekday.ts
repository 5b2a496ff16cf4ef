import { weekdayOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { dayKernel } from '../kernel-rows.js'

export const weekdayGuide: FunctionGuide = {
  doc: 'The day of the week of a date, from Monday 1 to Sunday 7.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'weekday(@2026-03-14)', gives: 6 },
    { formula: 'weekday(@0001-01-01)', gives: 1 },
  ],
}

export const weekday = defineFunction({
  name: 'weekday',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  unit: 'plain',
  errors: [],
  kernel: dayKernel(weekdayOf),
})
