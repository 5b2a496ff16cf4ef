import { MS_PER_DAY } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { epochDays, failRow, numberResults, numbersOf } from '../kernel-rows.js'
import { perCalendar, weekendText } from './workday-calls.js'

export const addWorkdaysGuide: FunctionGuide = {
  doc: 'The date so many working days later, or earlier when negative; 0 leaves the date as it is.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'add_workdays(@2026-03-13, 1)', gives: '2026-03-16' },
    { formula: 'add_workdays(@2026-03-16, -1)', gives: '2026-03-13' },
    { formula: 'add_workdays(@2026-03-14, 0)', gives: '2026-03-14' },
    { formula: 'add_workdays(@2026-03-13, 0.5)', fails: 'out-of-range' },
  ],
}

export const addWorkdays = defineFunction({
  name: 'add_workdays',
  family: 'date',
  signature: '(date: date | datetime, days: number, holidays?: rows, weekend?: text) -> same',
  unit: { takes: 'd', argument: 1 },
  errors: ['out-of-range'],
  textRule: weekendText(3),
  kernel: (call) => {
    const values = numbersOf(call, 0)
    const dayOf = epochDays(call, 0)
    const counts = numbersOf(call, 1)
    const results = numberResults(call)
    const hasTime = call.types[0] === 'datetime'
    perCalendar(call, 2, (row, calendar) => {
      const from = dayOf(row)
      const count = counts[row] as number
      const day = Number.isInteger(count) ? calendar.move(from, count) : Number.NaN
      if (Number.isNaN(day)) failRow(call, row, 'out-of-range')
      else results[row] = hasTime ? (values[row] as number) + (day - from) * MS_PER_DAY : day
    })
  },
})
