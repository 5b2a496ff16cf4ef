import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { shifted } from './neighbours.js'

export const lagGuide: FunctionGuide = {
  doc: 'The value of the row before, or so many rows before.',
  blanks: 'outside the table, or of a blank, it is blank',
  examples: [
    { formula: 'lag(kg)', over: { kg: [3, 5, 4] }, givesRows: [null, 3, 5] },
    { formula: 'lag(kg order by kg)', over: { kg: [3, 5, 4] }, givesRows: [null, 4, 3] },
  ],
}

export const lag = defineFunction({
  name: 'lag',
  family: 'ordered',
  signature: '(value: T, rows?: number) -> T',
  unit: 'same',
  errors: [],
  form: 'ordered',
  clauses: ['by', 'order by'],
  inOrder: (rows) => shifted(rows, 1),
  reach: (count) => count,
})
