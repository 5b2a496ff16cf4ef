import { numberCell } from '../aggregate/exact-rows.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { overWindow } from './moving-window.js'

export const movingSumGuide: FunctionGuide = {
  doc: 'The exact total of a value over this row and those before it, so many rows together.',
  blanks: 'blanks are skipped but counted as rows; blank if there is no value',
  examples: [
    { formula: 'moving_sum(kg, 2)', over: { kg: [3, 5, 4] }, givesRows: [3, 8, 9] },
    { formula: 'moving_sum(kg, 2)', over: { kg: [3, null, 4] }, givesRows: [3, 3, 4] },
    { formula: 'moving_sum(kg, 0)', over: { kg: [3, 5, 4] }, fails: 'out-of-range' },
  ],
}

export const movingSum = defineFunction({
  name: 'moving_sum',
  family: 'ordered',
  signature: '(value: number, rows: number) -> number',
  unit: 'same',
  errors: ['out-of-range'],
  form: 'ordered',
  clauses: ['by', 'order by'],
  inOrder: ({ args }) => overWindow(args, (sum) => numberCell(sum.result())),
  reach: (count) => count,
})
