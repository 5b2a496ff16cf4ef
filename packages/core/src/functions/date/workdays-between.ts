import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { epochDays, numberResults } from '../kernel-rows.js'
import { perCalendar, weekendText } from './workday-calls.js'

export const workdaysBetweenGuide: FunctionGuide = {
  doc: 'How many days after the first date, up to and with the second, are working days; negative when the second is earlier. Saturday and Sunday are no working days unless another weekend is given.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'workdays_between(@2026-03-13, @2026-03-16)', gives: 1 },
    { formula: 'workdays_between(@2026-03-16, @2026-03-13)', gives: -1 },
    { formula: "workdays_between(@2026-03-12, @2026-03-15, 'fri')", gives: 2 },
    { formula: 'workdays_between(@0001-01-01, @9999-12-31)', gives: 2608614 },
    { formula: "workdays_between(@2026-03-12, @2026-03-15, 'Freitag')", fails: 'out-of-range' },
  ],
}

export const workdaysBetween = defineFunction({
  name: 'workdays_between',
  family: 'date',
  signature: '(start: date | datetime, end: date | datetime, holidays?: rows, weekend?: text) -> number',
  unit: { gives: 'd' },
  errors: ['out-of-range'],
  textRule: weekendText(3),
  kernel: (call) => {
    const start = epochDays(call, 0)
    const end = epochDays(call, 1)
    const results = numberResults(call)
    perCalendar(call, 2, (row, calendar) => {
      results[row] = calendar.upTo(end(row)) - calendar.upTo(start(row))
    })
  },
})
