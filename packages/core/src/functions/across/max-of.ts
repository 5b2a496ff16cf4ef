import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { extremeKernel } from './extreme-kernel.js'

export const maxOfGuide: FunctionGuide = {
  doc: 'The largest of several columns of a row: numbers, texts by code point, or dates.',
  blanks: 'blanks are skipped; blank if there is no value; with blanks as zero they count as 0, for numbers',
  examples: [
    { formula: 'max_of(3, 10, blank)', gives: 10 },
    { formula: 'max_of(-1, blank, blanks as zero)', gives: 0 },
    { formula: "max_of('b', 'a')", gives: 'b' },
    { formula: 'max_of(@2026-03-14, blank)', gives: '2026-03-14' },
  ],
}

export const maxOf = defineFunction({
  name: 'max_of',
  family: 'across',
  signature: '(...values: ordered) -> ordered',
  unit: 'alike',
  errors: [],
  clauses: ['blanks as zero'],
  kernel: extremeKernel(1),
})
