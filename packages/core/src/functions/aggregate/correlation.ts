import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { pairSums, scaledRatio } from './exact-rows.js'

export const correlationGuide: FunctionGuide = {
  doc: 'How closely y and x go together over rows, from −1 to 1: the root of r_squared with the sign of the slope.',
  blanks: 'rows with a blank are left out; blank for fewer than two rows',
  examples: [
    { formula: 'correlation(y, x)', over: { y: [3, 5, 7], x: [1, 2, 3] }, gives: 1 },
    { formula: 'correlation(y, x)', over: { y: [1, 2], x: [1, 1] }, fails: 'division-by-zero' },
  ],
}

export const correlation = defineFunction({
  name: 'correlation',
  family: 'aggregate',
  signature: '(y: number, x: number) -> number',
  unit: 'plain',
  errors: ['division-by-zero'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const sums = pairSums(args[0] ?? [], args[1] ?? [])
    if (sums === null) return null
    const squared = scaledRatio(sums.together * sums.together, sums.ofX * sums.ofY, 0)
    return typeof squared === 'number' ? (sums.together < 0n ? -1 : 1) * Math.sqrt(squared) + 0 : squared
  },
})
