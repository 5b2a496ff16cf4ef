import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { foldNumbers } from './fold-numbers.js'

export const sumOfGuide: FunctionGuide = {
  doc: 'The exact sum of several columns of a row, rounded once.',
  blanks: 'blanks are skipped; blank if there is no value; with blanks as zero they count as 0',
  examples: [
    { formula: 'sum_of(1, blank, 2.5)', gives: 3.5 },
    { formula: 'sum_of(0.1, 0.2, 0.3)', gives: 0.6 },
    { formula: 'sum_of(blank, blank)', gives: null },
    { formula: 'sum_of(blank, blank, blanks as zero)', gives: 0 },
    { formula: 'sum_of(1e308, 1e308)', fails: 'out-of-range' },
  ],
}

export const sumOf = defineFunction({
  name: 'sum_of',
  family: 'across',
  signature: '(...values: number) -> number',
  unit: 'alike',
  errors: ['out-of-range'],
  clauses: ['blanks as zero'],
  kernel: foldNumbers((sum) => sum.result()),
})
