import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const countDistinctGuide: FunctionGuide = {
  doc: 'How many different values there are over rows.',
  blanks: 'blanks are not counted; over no values it is 0',
  examples: [
    { formula: 'count_distinct(hive)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, gives: 2 },
    { formula: 'count_distinct(kg)', over: { kg: [null] }, gives: 0 },
  ],
}

export const countDistinct = defineFunction({
  name: 'count_distinct',
  family: 'aggregate',
  signature: '(value: any) -> number',
  unit: 'plain',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => new Set(args[0]?.filter((cell) => cell !== null)).size,
  ofSorted: (values) => values.distinct,
})
