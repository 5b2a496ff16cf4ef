import { defineFunction } from '../define.js'

export const cumulativeSum = defineFunction({
  name: 'cumulative_sum',
  family: 'ordered',
  signature: '(value: number) -> number',
  doc: 'The exact total of a value up to and with the row.',
  blanks: 'a blank adds nothing and shows the total so far; blank before the first value',
  errors: ['out-of-range'],
  examples: [
    { formula: 'cumulative_sum(kg)', over: { kg: [3, 5, 4] }, givesRows: [3, 8, 12] },
    { formula: 'cumulative_sum(kg)', over: { kg: [3, null, 4] }, givesRows: [3, 3, 7] },
    { formula: 'if_error(cumulative_sum(kg), 0)', over: { kg: [1e308, 1e308] }, givesRows: [1e308, 0] },
    { formula: 'cumulative_sum(2 * kg)', over: { kg: [1e308] }, fails: 'out-of-range' },
  ],
  purposes: ['running total', 'stock'],
  form: 'ordered',
  clauses: ['by', 'order by'],
})
