import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { pairSums, scaledRatio } from './exact-rows.js'

export const interceptGuide: FunctionGuide = {
  doc: 'Where the straight line that fits y to x best over rows meets x = 0, by least squares; exact, rounded once.',
  blanks: 'rows with a blank are left out; blank for fewer than two rows',
  examples: [
    { formula: 'intercept(y, x)', over: { y: [3, 5, 7], x: [1, 2, 3] }, gives: 1 },
    { formula: 'intercept(y, x)', over: { y: [1, 2], x: [1, 1] }, fails: 'division-by-zero' },
  ],
}

export const intercept = defineFunction({
  name: 'intercept',
  family: 'aggregate',
  signature: '(y: number, x: number) -> number',
  unit: 'same',
  errors: ['division-by-zero'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const sums = pairSums(args[0] ?? [], args[1] ?? [])
    if (sums === null) return null
    return scaledRatio(sums.sumY * sums.sumXX - sums.sumX * sums.sumXY, sums.ofX, sums.exponentY)
  },
})
