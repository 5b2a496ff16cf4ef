import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const rowNumberGuide: FunctionGuide = {
  doc: 'The number of a row, from 1.',
  blanks: 'has no arguments',
  examples: [
    { formula: 'row_number()', over: { kg: [3, 5, 4] }, givesRows: [1, 2, 3] },
    { formula: 'row_number(order by kg)', over: { kg: [3, 5, 4] }, givesRows: [1, 3, 2] },
  ],
}

export const rowNumber = defineFunction({
  name: 'row_number',
  family: 'ordered',
  signature: '() -> number',
  unit: 'plain',
  errors: [],
  form: 'ordered',
  clauses: ['by', 'order by'],
  inOrder: ({ count }) => Array.from({ length: count }, (_, row) => row + 1),
})
