import { CellFault } from '../../values/index.js'
import { numberCell } from '../aggregate/exact-rows.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const differenceGuide: FunctionGuide = {
  doc: 'How much a value has grown since the row before.',
  blanks: 'blank beside a blank and on the first row',
  examples: [
    { formula: 'difference(kg)', over: { kg: [3, 5, 4] }, givesRows: [null, 2, -1] },
    { formula: 'difference(kg)', over: { kg: [3, null, 4] }, givesRows: [null, null, null] },
  ],
}

export const difference = defineFunction({
  name: 'difference',
  family: 'ordered',
  signature: '(value: number) -> number',
  unit: 'difference',
  errors: [],
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
