import { defineFunction } from '../define.js'

export const mode = defineFunction({
  name: 'mode',
  family: 'aggregate',
  signature: '(value: any) -> same',
  doc: 'The commonest value over rows; of equally common ones the smallest.',
  blanks: 'blanks are skipped; blank if there is no value',
  errors: [],
  examples: [
    { formula: 'mode(hive)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, gives: 'A' },
    { formula: 'mode(kg)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, gives: 5 },
  ],
  purposes: ['most frequent', 'commonest'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
})
