import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { exactSum, numbersOfCells } from './exact-rows.js'

export const meanGuide: FunctionGuide = {
  doc: 'The exact mean of a value over rows, rounded once.',
  blanks: 'blanks are skipped; blank if there is no value',
  examples: [
    { formula: 'mean(kg)', over: { kg: [12, null, 8] }, gives: 10 },
    { formula: 'mean(kg by hive)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, givesRows: [10, 5, 10] },
  ],
}

export const mean = defineFunction({
  name: 'mean',
  family: 'aggregate',
  signature: '(value: number) -> number',
  unit: 'same',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const values = numbersOfCells(args[0] ?? [])
    return values.length === 0 ? null : exactSum(values).times(1, values.length)
  },
})
