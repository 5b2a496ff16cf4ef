import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { booleanResults, epochDays } from '../kernel-rows.js'
import { perCalendar, weekendText } from './workday-calls.js'

export const isWorkdayGuide: FunctionGuide = {
  doc: 'Whether a date is a working day: neither in the weekend (Saturday and Sunday unless another is given) nor a holiday.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'is_workday(@2026-03-13)', gives: true },
    { formula: 'is_workday(@2026-03-14)', gives: false },
    { formula: "is_workday(@2026-03-14, '')", gives: true },
    { formula: "is_workday(@2026-03-14, 'someday')", fails: 'out-of-range' },
  ],
}

export const isWorkday = defineFunction({
  name: 'is_workday',
  family: 'date',
  signature: '(date: date | datetime, holidays?: rows, weekend?: text) -> boolean',
  errors: ['out-of-range'],
  textRule: weekendText(2),
  kernel: (call) => {
    const day = epochDays(call, 0)
    const results = booleanResults(call)
    perCalendar(call, 1, (row, calendar) => {
      results[row] = calendar.isWorking(day(row)) ? 1 : 0
    })
  },
})
