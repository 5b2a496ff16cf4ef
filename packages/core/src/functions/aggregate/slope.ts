import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { pairSums, scaledRatio } from './exact-rows.js'

export const slopeGuide: FunctionGuide = {
  doc: 'The slope of the straight line that fits y to x best over rows, by least squares; exact, rounded once.',
  blanks: 'rows with a blank are left out; blank for fewer than two rows',
  examples: [
    { formula: 'slope(y, x)', over: { y: [3, 5, 7], x: [1, 2, 3] }, gives: 2 },
    { formula: 'slope(y, x)', over: { y: [1, 2], x: [1, 1] }, fails: 'division-by-zero' },
  ],
}

export const slope = defineFunction({
  name: 'slope',
  family: 'aggregate',
  signature: '(y: number, x: number) -> number',
  unit: 'slope',
  errors: ['division-by-zero'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const sums = pairSums(args[0] ?? [], args[1] ?? [])
    return sums === null ? null : scaledRatio(sums.together, sums.ofX, sums.exponentY - sums.exponentX)
  },
})
