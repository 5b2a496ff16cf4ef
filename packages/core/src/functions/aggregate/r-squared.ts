import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { pairSums, scaledRatio } from './exact-rows.js'

export const rSquaredGuide: FunctionGuide = {
  doc: 'The part of the variance of y that the straight line over x explains, 0 to 1; exact, rounded once.',
  blanks: 'rows with a blank are left out; blank for fewer than two rows',
  examples: [
    { formula: 'r_squared(y, x)', over: { y: [3, 5, 7], x: [1, 2, 3] }, gives: 1 },
    { formula: 'r_squared(y, x)', over: { y: [1, 2], x: [1, 1] }, fails: 'division-by-zero' },
  ],
}

export const rSquared = defineFunction({
  name: 'r_squared',
  family: 'aggregate',
  signature: '(y: number, x: number) -> number',
  unit: 'plain',
  errors: ['division-by-zero'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const sums = pairSums(args[0] ?? [], args[1] ?? [])
    return sums === null ? null : scaledRatio(sums.together * sums.together, sums.ofX * sums.ofY, 0)
  },
})
