import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const countGuide: FunctionGuide = {
  doc: 'How many rows there are; with a value, how many of them have it filled.',
  blanks: 'blanks are not counted; over no rows it is 0',
  examples: [
    { formula: 'count()', over: { kg: [12, null, 8] }, gives: 3 },
    { formula: 'count(kg)', over: { kg: [12, null, 8] }, gives: 2 },
    { formula: 'count(by hive)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, givesRows: [2, 1, 2] },
    { formula: 'count(where kg > 6)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, gives: 2 },
  ],
}

export const count = defineFunction({
  name: 'count',
  family: 'aggregate',
  signature: '(value?: any) -> number',
  unit: 'plain',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args, count }) => (args[0] === undefined ? count : args[0].filter((cell) => cell !== null).length),
})
