import { defineFunction } from '../define.js'

export const percentile = defineFunction({
  name: 'percentile',
  family: 'aggregate',
  signature: '(value: number, p: number) -> number',
  doc: 'The value that a part p of the rows (0 to 1) does not exceed, linear between the rows at place (n − 1) · p.',
  blanks: 'blanks are skipped; blank if there is no value',
  errors: ['out-of-range'],
  examples: [
    { formula: 'percentile(kg, 0.5)', over: { kg: [12, null, 8] }, gives: 10 },
    { formula: 'percentile(kg, 25%)', over: { kg: [1, 2, 3, 4, 5] }, gives: 2 },
    { formula: 'percentile(kg, 2)', over: { kg: [12, null, 8] }, fails: 'out-of-range' },
  ],
  purposes: ['quantile', 'quartile', 'spread'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
})
