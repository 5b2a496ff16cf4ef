import { addMonths as monthsLater } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { shiftKernel } from './shift-date.js'

export const addMonthsGuide: FunctionGuide = {
  doc: 'A date so many whole months later, or earlier when negative; the end of a month stays inside the month reached.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'add_months(@2028-01-31, 1)', gives: '2028-02-29' },
    { formula: 'add_months(@2026-03-31, -1)', gives: '2026-02-28' },
    { formula: 'add_months(@2026-01-01, 0.5)', fails: 'out-of-range' },
  ],
}

export const addMonths = defineFunction({
  name: 'add_months',
  family: 'date',
  signature: '(date: date | datetime, months: number) -> same',
  unit: { takes: 'mo', argument: 1 },
  errors: ['out-of-range'],
  kernel: shiftKernel(monthsLater),
})
