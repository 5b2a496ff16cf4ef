import { defineFunction } from '../define.js'
import { epochDays, numberResults, numbersOf, perRow } from '../kernel-rows.js'

export const daysBetween = defineFunction({
  name: 'days_between',
  family: 'date',
  signature: '(start: date | datetime, end: date | datetime) -> number',
  doc: 'Whole days from one date to another; negative when the second is earlier. Times of the day do not count.',
  blanks: 'any blank argument gives blank',
  errors: [],
  examples: [
    { formula: 'days_between(@2026-03-14, @2026-04-01)', gives: 18 },
    { formula: 'days_between(@2028-03-01, @2028-02-28)', gives: -2 },
  ],
  purposes: ['date difference', 'waiting time'],
  kernel: (call) => {
    const results = numberResults(call)
    const { types } = call
    if (types[0] !== 'datetime' && types[1] !== 'datetime') {
      const starts = numbersOf(call, 0)
      const ends = numbersOf(call, 1)
      perRow(call, (row) => {
        results[row] = (ends[row] as number) - (starts[row] as number)
      })
      return
    }
    const start = epochDays(call, 0)
    const end = epochDays(call, 1)
    perRow(call, (row) => {
      results[row] = end(row) - start(row)
    })
  },
})
