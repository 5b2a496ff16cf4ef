import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { clockKernel } from './clock-kernel.js'

export const minuteGuide: FunctionGuide = {
  doc: 'The minute of a date-time, 0 to 59; of a date it is 0.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'minute(@2026-03-14T09:30:00)', gives: 30 },
    { formula: 'minute(@1969-12-31T23:59:00)', gives: 59 },
  ],
}

export const minute = defineFunction({
  name: 'minute',
  family: 'date',
  signature: '(time: date | datetime) -> number',
  unit: 'plain',
  errors: [],
  kernel: clockKernel((ms) => Math.floor(ms / 60_000) % 60),
})
