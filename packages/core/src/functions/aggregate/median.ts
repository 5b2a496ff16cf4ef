import { defineFunction } from '../define.js'
import { numbersOfCells } from './exact-rows.js'
import { valueAtPlace } from './sorted-values.js'

export const median = defineFunction({
  name: 'median',
  family: 'aggregate',
  signature: '(value: number) -> number',
  doc: 'The middle value over rows; of an even count the exact mean of the middle two.',
  blanks: 'blanks are skipped; blank if there is no value',
  errors: [],
  examples: [
    { formula: 'median(kg)', over: { kg: [12, null, 8] }, gives: 10 },
    { formula: 'median(kg)', over: { kg: [1, 3, 100] }, gives: 3 },
  ],
  purposes: ['middle value', 'typical value'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const values = numbersOfCells(args[0] ?? []).sort((a, b) => a - b)
    return values.length === 0 ? null : valueAtPlace(values, BigInt(values.length - 1), 1)
  },
})
