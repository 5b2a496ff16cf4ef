import { endOfPeriod } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { periodKernel } from './period-kernel.js'
import { unitText } from './unit-text.js'

export const endOfGuide: FunctionGuide = {
  doc: 'The last day of the year, quarter, month or week that a date lies in; of a date-time the last millisecond of its period.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "end_of(@2028-02-10, 'month')", gives: '2028-02-29' },
    { formula: "end_of(@2026-03-14T09:30:00, 'day')", gives: '2026-03-14T23:59:59.999' },
    { formula: "end_of(@2026-03-14, 'moon')", fails: 'out-of-range' },
  ],
}

export const endOf = defineFunction({
  name: 'end_of',
  family: 'date',
  signature: '(date: date | datetime, unit: text) -> same',
  errors: ['out-of-range'],
  textRule: unitText(1),
  kernel: periodKernel(endOfPeriod),
})
