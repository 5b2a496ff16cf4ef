import { CellFault } from '../../values/index.js'
import { numberCell } from '../aggregate/exact-rows.js'
import { defineFunction } from '../define.js'

export const difference = defineFunction({
  name: 'difference',
  family: 'ordered',
  signature: '(value: number) -> number',
  doc: 'How much a value has grown since the row before.',
  blanks: 'blank beside a blank and on the first row',
  errors: [],
  examples: [
    { formula: 'difference(kg)', over: { kg: [3, 5, 4] }, givesRows: [null, 2, -1] },
    { formula: 'difference(kg)', over: { kg: [3, null, 4] }, givesRows: [null, null, null] },
  ],
  form: 'ordered',
  clauses: ['by', 'order by'],
  inOrder: ({ args }) =>
    (args[0] ?? []).map((cell, row, cells) => {
      const before = cells[row - 1] ?? null
      const fault = cell instanceof CellFault ? cell : before instanceof CellFault ? before : null
      if (fault !== null) return fault
      return typeof cell === 'number' && typeof before === 'number' ? numberCell(cell - before) : null
    }),
  reach: () => 1,
})
