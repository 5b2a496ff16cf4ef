import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { medianKernel } from './median-kernel.js'

export const medianOfGuide: FunctionGuide = {
  doc: 'The middle of several columns of a row; of an even count the exact mean of the middle two.',
  blanks: 'blanks are skipped; blank if there is no value; with blanks as zero they count as 0',
  examples: [
    { formula: 'median_of(3, 1, 10)', gives: 3 },
    { formula: 'median_of(1, 2, blank, 4, 10)', gives: 3 },
    { formula: 'median_of(1, blank, 4, blanks as zero)', gives: 1 },
  ],
}

export const medianOf = defineFunction({
  name: 'median_of',
  family: 'across',
  signature: '(...values: number) -> number',
  unit: 'alike',
  errors: [],
  clauses: ['blanks as zero'],
  kernel: medianKernel,
})
