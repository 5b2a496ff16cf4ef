import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { ratedKernel } from './rated-kernel.js'

export const weightedGuide: FunctionGuide = {
  doc: 'The weighted sum of several columns of a row, each with its weight: weighted(brood at 60%, stores at 40%). The weights of missing values are shared among those present. Exact, rounded once.',
  blanks:
    'a blank is left out and the other weights are scaled up; blank if there is no value; with blanks as zero they count as 0',
  examples: [
    { formula: 'weighted(7 at 20%, 0 at 80%)', gives: 1.4 },
    { formula: 'weighted(8 at 60%, blank at 40%)', gives: 8 },
    { formula: 'weighted(8 at 60%, blank at 40%, blanks as zero)', gives: 4.8 },
    { formula: 'weighted(blank at 100%)', gives: null },
    { formula: 'weighted(1 at 0%)', fails: 'division-by-zero' },
    { formula: 'weighted(1e308 at 100, 1e308 at 100)', fails: 'out-of-range' },
  ],
}

export const weighted = defineFunction({
  name: 'weighted',
  family: 'across',
  signature: '(...values: number) -> number',
  errors: ['division-by-zero', 'out-of-range'],
  rating: 'at',
  clauses: ['blanks as zero'],
  kernel: ratedKernel('weights'),
})
