import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { shiftKernel } from './shift-date.js'

export const addDaysGuide: FunctionGuide = {
  doc: 'A date so many whole days later, or earlier when negative.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'add_days(@2028-02-28, 2)', gives: '2028-03-01' },
    { formula: 'add_days(@9999-12-31, 1)', fails: 'out-of-range' },
  ],
}

export const addDays = defineFunction({
  name: 'add_days',
  family: 'date',
  signature: '(date: date | datetime, days: number) -> same',
  unit: { takes: 'd', argument: 1 },
  errors: ['out-of-range'],
  kernel: shiftKernel((epochDay, days) => epochDay + days),
})
