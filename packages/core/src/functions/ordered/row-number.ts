import { defineFunction } from '../define.js'

export const rowNumber = defineFunction({
  name: 'row_number',
  family: 'ordered',
  signature: '() -> number',
  doc: 'The number of a row, from 1.',
  blanks: 'has no arguments',
  errors: [],
  examples: [
    { formula: 'row_number()', over: { kg: [3, 5, 4] }, givesRows: [1, 2, 3] },
    { formula: 'row_number(order by kg)', over: { kg: [3, 5, 4] }, givesRows: [1, 3, 2] },
  ],
  form: 'ordered',
  clauses: ['by', 'order by'],
  inOrder: ({ count }) => Array.from({ length: count }, (_, row) => row + 1),
})
