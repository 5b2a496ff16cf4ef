import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { epochDays, numberResults, perRow } from '../kernel-rows.js'

export const daysBetweenGuide: FunctionGuide = {
  doc: 'Whole days from one date to another; negative when the second is earlier. Times of the day do not count.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'days_between(@2026-03-14, @2026-04-01)', gives: 18 },
    { formula: 'days_between(@2028-03-01, @2028-02-28)', gives: -2 },
  ],
}

export const daysBetween = defineFunction({
  name: 'days_between',
  family: 'date',
  signature: '(start: date | datetime, end: date | datetime) -> number',
  unit: { gives: 'd' },
  errors: [],
  operator: (types) => (types.includes('datetime') ? null : { name: 'subtract', swapped: true }),
  kernel: (call) => {
    const results = numberResults(call)
    const start = epochDays(call, 0)
    const end = epochDays(call, 1)
    perRow(call, (row) => {
      results[row] = end(row) - start(row)
    })
  },
})
