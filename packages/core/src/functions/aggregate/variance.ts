import { defineFunction } from '../define.js'
import { numberCell, numbersOfCells, varianceOf, varianceOfMoments } from './exact-rows.js'

export const variance = defineFunction({
  name: 'variance',
  family: 'aggregate',
  signature: '(value: number) -> number',
  doc: 'The exact variance of a value over rows, of a sample (n − 1), rounded once.',
  blanks: 'blanks are skipped; blank for fewer than two values',
  errors: [],
  examples: [
    { formula: 'variance(kg)', over: { kg: [1, 3, 5] }, gives: 4 },
    { formula: 'variance(kg)', over: { kg: [1] }, gives: null },
  ],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const variance = varianceOf(numbersOfCells(args[0] ?? []))
    return variance === null ? null : numberCell(variance)
  },
  ofMoments: (moments) => {
    const variance = varianceOfMoments(moments)
    return variance === null ? null : numberCell(variance)
  },
})
