import { MS_PER_DAY } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { epochDays, failRow, numberResults, numbersOf, perRow } from '../kernel-rows.js'

export const datetimeGuide: FunctionGuide = {
  doc: 'The date-time of a date and a time of the day; seconds may have a fraction down to the millisecond.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'datetime(@2026-03-14, 9, 30, 0)', gives: '2026-03-14T09:30:00' },
    { formula: 'datetime(@2026-03-14, 23, 59, 59.5)', gives: '2026-03-14T23:59:59.5' },
    { formula: 'datetime(@2026-03-14, 24, 0, 0)', fails: 'out-of-range' },
  ],
}

export const datetime = defineFunction({
  name: 'datetime',
  family: 'date',
  signature: '(date: date | datetime, hour: number, minute?: number, second?: number) -> datetime',
  errors: ['out-of-range'],
  kernel: (call) => {
    const dayOf = epochDays(call, 0)
    const parts = call.args.slice(1).map((_, index) => numbersOf(call, index + 1))
    const results = numberResults(call)
    perRow(call, (row) => {
      const [hour = 0, minute = 0, second = 0] = parts.map((part) => part[row] as number)
      const ms = second * 1000
      const exists =
        Number.isInteger(hour) &&
        hour >= 0 &&
        hour < 24 &&
        Number.isInteger(minute) &&
        minute >= 0 &&
        minute < 60 &&
        Math.abs(ms - Math.round(ms)) < 1e-6 &&
        ms >= 0 &&
        Math.round(ms) < 60_000
      if (exists) results[row] = dayOf(row) * MS_PER_DAY + hour * 3_600_000 + minute * 60_000 + Math.round(ms)
      else failRow(call, row, 'out-of-range')
    })
  },
})
