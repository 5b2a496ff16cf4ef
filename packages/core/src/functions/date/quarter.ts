import { civilOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { dayKernel } from '../kernel-rows.js'

export const quarterGuide: FunctionGuide = {
  doc: 'The quarter of a date, 1 to 4.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'quarter(@2026-03-14)', gives: 1 },
    { formula: 'quarter(@2026-12-31)', gives: 4 },
  ],
}

export const quarter = defineFunction({
  name: 'quarter',
  family: 'date',
  signature: '(date: date | datetime) -> number',
  unit: 'plain',
  errors: [],
  kernel: dayKernel((epochDay) => Math.ceil(civilOf(epochDay).month / 3)),
})
