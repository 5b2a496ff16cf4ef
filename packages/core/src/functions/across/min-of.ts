import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { extremeKernel } from './extreme-kernel.js'

export const minOfGuide: FunctionGuide = {
  doc: 'The smallest of several columns of a row: numbers, texts by code point, or dates.',
  blanks: 'blanks are skipped; blank if there is no value; with blanks as zero they count as 0, for numbers',
  examples: [
    { formula: 'min_of(3, 1, blank)', gives: 1 },
    { formula: 'min_of(3, 1, blank, blanks as zero)', gives: 0 },
    { formula: "min_of('b', 'a')", gives: 'a' },
    { formula: 'min_of(@2026-03-14, @2026-03-01)', gives: '2026-03-01' },
  ],
}

export const minOf = defineFunction({
  name: 'min_of',
  family: 'across',
  signature: '(...values: ordered) -> ordered',
  unit: 'alike',
  errors: [],
  clauses: ['blanks as zero'],
  kernel: extremeKernel(-1),
})
