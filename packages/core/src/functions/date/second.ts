import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { clockKernel } from './clock-kernel.js'

export const secondGuide: FunctionGuide = {
  doc: 'The second of a date-time with its fraction, from 0 up to 60; of a date it is 0.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'second(@2026-03-14T09:30:15.250)', gives: 15.25 },
    { formula: 'second(@2026-03-14)', gives: 0 },
  ],
}

export const second = defineFunction({
  name: 'second',
  family: 'date',
  signature: '(time: date | datetime) -> number',
  unit: 'plain',
  errors: [],
  kernel: clockKernel((ms) => (ms % 60_000) / 1000),
})
