import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { shifted } from './neighbours.js'

export const leadGuide: FunctionGuide = {
  doc: 'The value of the row after, or so many rows after.',
  blanks: 'outside the table, or of a blank, it is blank',
  examples: [
    { formula: 'lead(kg)', over: { kg: [3, 5, 4] }, givesRows: [5, 4, null] },
    { formula: 'lead(kg, 2)', over: { kg: [3, 5, 4] }, givesRows: [4, null, null] },
  ],
}

export const lead = defineFunction({
  name: 'lead',
  family: 'ordered',
  signature: '(value: T, rows?: number) -> T',
  unit: 'same',
  errors: [],
  form: 'ordered',
  clauses: ['by', 'order by'],
  inOrder: (rows) => shifted(rows, -1),
  reach: (count) => count,
})
