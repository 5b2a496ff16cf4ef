import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { exactSum, numberCell, numbersOfCells } from './exact-rows.js'

export const shareGuide: FunctionGuide = {
  doc: 'A value of the row per its total over rows: its part of the whole, or of its group.',
  blanks: 'a blank value gives blank; blank where the total is zero',
  examples: [
    { formula: 'share(kg)', over: { kg: [12, null, 8] }, givesRows: [0.6, null, 0.4] },
    { formula: 'share(kg by hive)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, givesRows: [0.6, 1, 0.4] },
  ],
}

export const share = defineFunction({
  name: 'share',
  family: 'aggregate',
  signature: '(value: number) -> number',
  unit: 'plain',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const values = numbersOfCells(args[0] ?? [])
    return values.length === 0 ? null : numberCell(exactSum(values).result())
  },
  isShare: true,
})
