import { startOfPeriod } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { periodKernel } from './period-kernel.js'
import { unitText } from './unit-text.js'

export const startOfGuide: FunctionGuide = {
  doc: 'The first day, or moment, of the year, quarter, month, week, day, hour, minute or second that a date lies in; weeks begin on Monday.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "start_of(@2026-03-14, 'month')", gives: '2026-03-01' },
    { formula: "start_of(@2026-03-14T09:30:00, 'hour')", gives: '2026-03-14T09:00:00' },
    { formula: "start_of(@2026-03-15, 'week')", gives: '2026-03-09' },
    { formula: "start_of(@2026-03-14, 'moon')", fails: 'out-of-range' },
  ],
}

export const startOf = defineFunction({
  name: 'start_of',
  family: 'date',
  signature: '(date: date | datetime, unit: text) -> same',
  errors: ['out-of-range'],
  textRule: unitText(1),
  kernel: periodKernel(startOfPeriod),
})
