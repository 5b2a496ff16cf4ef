import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { spanKernel } from './span-kernel.js'

export const yearsBetweenGuide: FunctionGuide = {
  doc: 'Whole years from one date to another: the most that can be added to the earlier without passing the later; negative when the second is earlier.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'years_between(@2004-02-29, @2026-02-28)', gives: 22 },
    { formula: 'years_between(@2026-03-14, @2025-03-15)', gives: 0 },
  ],
}

export const yearsBetween = defineFunction({
  name: 'years_between',
  family: 'date',
  signature: '(start: date | datetime, end: date | datetime) -> number',
  unit: { gives: 'a' },
  errors: [],
  kernel: spanKernel((months) => Math.trunc(months / 12) + 0),
})
