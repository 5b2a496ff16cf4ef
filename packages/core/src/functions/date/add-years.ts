import { addMonths } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { shiftKernel } from './shift-date.js'

export const addYearsGuide: FunctionGuide = {
  doc: 'A date so many whole years later, or earlier when negative; 29 February becomes 28 where the year has none.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'add_years(@2028-02-29, 1)', gives: '2029-02-28' },
    { formula: 'add_years(@2026-03-14, -1)', gives: '2025-03-14' },
    { formula: 'add_years(@2026-01-01, 9000)', fails: 'out-of-range' },
  ],
}

export const addYears = defineFunction({
  name: 'add_years',
  family: 'date',
  signature: '(date: date | datetime, years: number) -> same',
  unit: { takes: 'a', argument: 1 },
  errors: ['out-of-range'],
  kernel: shiftKernel((epochDay, years) => addMonths(epochDay, years * 12)),
})
