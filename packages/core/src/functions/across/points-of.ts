import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { ratedKernel } from './rated-kernel.js'

export const pointsOfGuide: FunctionGuide = {
  doc: 'Points reached per points possible, over several columns of a row, each with its maximum: points_of(taste out of 20, smell out of 10). Exact, rounded once.',
  blanks: 'a blank is skipped and its maximum with it; blank if there is no value; with blanks as zero they count as 0',
  examples: [
    { formula: 'points_of(15 out of 20, 5 out of 10)', gives: 20 / 30 },
    { formula: 'points_of(15 out of 20, blank out of 10)', gives: 0.75 },
    { formula: 'points_of(15 out of 20, blank out of 10, blanks as zero)', gives: 0.5 },
    { formula: 'points_of(blank out of 10)', gives: null },
    { formula: 'points_of(1 out of 0)', fails: 'division-by-zero' },
    { formula: 'points_of(1e308 out of 1e-10)', fails: 'out-of-range' },
  ],
}

export const pointsOf = defineFunction({
  name: 'points_of',
  family: 'across',
  signature: '(...values: number) -> number',
  unit: 'plain',
  errors: ['division-by-zero', 'out-of-range'],
  rating: 'out of',
  clauses: ['blanks as zero'],
  kernel: ratedKernel('points'),
})
