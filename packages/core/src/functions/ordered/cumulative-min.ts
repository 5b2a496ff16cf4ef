import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { running } from './neighbours.js'

export const cumulativeMinGuide: FunctionGuide = {
  doc: 'The smallest value up to and with the row.',
  blanks: 'a blank adds nothing and shows the total so far; blank before the first value',
  examples: [
    { formula: 'cumulative_min(kg)', over: { kg: [3, 5, 4] }, givesRows: [3, 3, 3] },
    { formula: 'cumulative_min(kg)', over: { kg: [3, null, 4] }, givesRows: [3, 3, 3] },
  ],
}

export const cumulativeMin = defineFunction({
  name: 'cumulative_min',
  family: 'ordered',
  signature: '(value: number) -> number',
  unit: 'same',
  errors: [],
  form: 'ordered',
  clauses: ['by', 'order by'],
  inOrder: ({ args }) => {
    let least: number | null = null
    return running(args[0] ?? [], (cell) => {
      if (cell !== null && (least === null || (cell as number) < least)) least = cell as number
      return least
    })
  },
})
