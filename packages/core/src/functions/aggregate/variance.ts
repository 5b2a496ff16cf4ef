import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberCell, numbersOfCells, varianceOf, varianceOfMoments } from './exact-rows.js'

export const varianceGuide: FunctionGuide = {
  doc: 'The exact variance of a value over rows, of a sample (n − 1), rounded once.',
  blanks: 'blanks are skipped; blank for fewer than two values',
  examples: [
    { formula: 'variance(kg)', over: { kg: [1, 3, 5] }, gives: 4 },
    { formula: 'variance(kg)', over: { kg: [1] }, gives: null },
  ],
}

export const variance = defineFunction({
  name: 'variance',
  family: 'aggregate',
  signature: '(value: number) -> number',
  unit: 'square',
  errors: [],
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
