import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberCell, numbersOfCells, varianceOf, varianceOfMoments } from './exact-rows.js'

export const stdevGuide: FunctionGuide = {
  doc: 'The standard deviation of a value over rows, of a sample: the root of the variance.',
  blanks: 'blanks are skipped; blank for fewer than two values',
  examples: [
    { formula: 'stdev(kg)', over: { kg: [1, 3, 5] }, gives: 2 },
    { formula: 'stdev(kg)', over: { kg: [1] }, gives: null },
  ],
}

export const stdev = defineFunction({
  name: 'stdev',
  family: 'aggregate',
  signature: '(value: number) -> number',
  unit: 'difference',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const variance = varianceOf(numbersOfCells(args[0] ?? []))
    return variance === null ? null : numberCell(Math.sqrt(variance))
  },
  ofMoments: (moments) => {
    const variance = varianceOfMoments(moments)
    return variance === null ? null : numberCell(Math.sqrt(variance))
  },
})
