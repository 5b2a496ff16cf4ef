import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { clockKernel } from './clock-kernel.js'

export const hourGuide: FunctionGuide = {
  doc: 'The hour of a date-time, 0 to 23; of a date it is 0.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'hour(@2026-03-14T09:30:00)', gives: 9 },
    { formula: 'hour(@2026-03-14)', gives: 0 },
  ],
}

export const hour = defineFunction({
  name: 'hour',
  family: 'date',
  signature: '(time: date | datetime) -> number',
  unit: 'plain',
  errors: [],
  kernel: clockKernel((ms) => Math.floor(ms / 3_600_000)),
})
