import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { foldNumbers } from './fold-numbers.js'

export const meanOfGuide: FunctionGuide = {
  doc: 'The exact mean of several columns of a row, rounded once.',
  blanks: 'blanks are skipped; blank if there is no value; with blanks as zero they count as 0',
  examples: [
    { formula: 'mean_of(1, blank, 4)', gives: 2.5 },
    { formula: 'mean_of(1, blank, 4, blanks as zero)', gives: 5 / 3 },
    { formula: 'mean_of(blank)', gives: null },
  ],
}

export const meanOf = defineFunction({
  name: 'mean_of',
  family: 'across',
  signature: '(...values: number) -> number',
  unit: 'alike',
  errors: [],
  clauses: ['blanks as zero'],
  kernel: foldNumbers((sum, count) => sum.times(1, count)),
})
