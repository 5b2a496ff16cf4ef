import { isPeriodUnit, MONTHS_OF_UNIT, MS_OF_UNIT, monthsBetween, type PeriodUnit } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, momentsOf, numberResults, perRow, textsOf } from '../kernel-rows.js'
import { unitText } from './unit-text.js'

export const elapsedGuide: FunctionGuide = {
  doc: 'The time from one date to another in a unit: year, quarter and month count whole ones; week, day, hour, minute and second have a fraction.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "elapsed(@2026-03-14T09:30:00, @2026-03-14T10:15:00, 'hour')", gives: 0.75 },
    { formula: "elapsed(@2026-01-31, @2026-02-28, 'month')", gives: 1 },
    { formula: "elapsed(@2026-03-14, @2026-03-01, 'day')", gives: -13 },
    { formula: "elapsed(@2026-03-14, @2026-03-15, 'moon')", fails: 'out-of-range' },
  ],
}

export const elapsed = defineFunction({
  name: 'elapsed',
  family: 'date',
  signature: '(start: date | datetime, end: date | datetime, unit: text) -> number',
  unit: 'elapsed',
  errors: ['out-of-range'],
  textRule: unitText(2),
  kernel: (call) => {
    const start = momentsOf(call, 0)
    const end = momentsOf(call, 1)
    const units = textsOf(call, 2)
    const results = numberResults(call)
    perRow(call, (row) => {
      const unit = units[row] as string
      if (isPeriodUnit(unit)) results[row] = inUnit(start(row), end(row), unit)
      else failRow(call, row, 'out-of-range')
    })
  },
})

function inUnit(start: number, end: number, unit: PeriodUnit): number {
  const months = MONTHS_OF_UNIT[unit]
  if (months !== undefined) return Math.trunc(monthsBetween(start, end) / months) + 0
  return (end - start) / (MS_OF_UNIT[unit] as number)
}
