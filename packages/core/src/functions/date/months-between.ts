import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { spanKernel } from './span-kernel.js'

export const monthsBetweenGuide: FunctionGuide = {
  doc: 'Whole months from one date to another: the most that can be added to the earlier without passing the later; negative when the second is earlier.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'months_between(@2026-01-31, @2026-02-28)', gives: 1 },
    { formula: 'months_between(@2026-01-15, @2026-03-14)', gives: 1 },
    { formula: 'months_between(@2026-03-14, @2026-01-15)', gives: -1 },
  ],
}

export const monthsBetween = defineFunction({
  name: 'months_between',
  family: 'date',
  signature: '(start: date | datetime, end: date | datetime) -> number',
  unit: { gives: 'mo' },
  errors: [],
  kernel: spanKernel((months) => months),
})
