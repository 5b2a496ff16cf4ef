import { defineFunction } from '../define.js'
import { overWindow } from './moving-window.js'

export const movingMean = defineFunction({
  name: 'moving_mean',
  family: 'ordered',
  signature: '(value: number, rows: number) -> number',
  doc: 'The exact mean of a value over this row and those before it, so many rows together.',
  blanks: 'blanks are skipped but counted as rows; blank if there is no value',
  errors: ['out-of-range'],
  examples: [
    { formula: 'moving_mean(kg, 2)', over: { kg: [3, 5, 4] }, givesRows: [3, 4, 4.5] },
    { formula: 'moving_mean(kg, 2)', over: { kg: [3, null, 4] }, givesRows: [3, 3, 4] },
    { formula: 'moving_mean(kg, 0)', over: { kg: [3, 5, 4] }, fails: 'out-of-range' },
  ],
  form: 'ordered',
  clauses: ['by', 'order by'],
  inOrder: ({ args }) => overWindow(args, (sum, count) => sum.times(1, count)),
  reach: (count) => count,
})
