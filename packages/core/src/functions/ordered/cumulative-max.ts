import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { running } from './neighbours.js'

export const cumulativeMaxGuide: FunctionGuide = {
  doc: 'The largest value up to and with the row.',
  blanks: 'a blank adds nothing and shows the total so far; blank before the first value',
  examples: [
    { formula: 'cumulative_max(kg)', over: { kg: [3, 5, 4] }, givesRows: [3, 5, 5] },
    { formula: 'cumulative_max(kg)', over: { kg: [3, null, 4] }, givesRows: [3, 3, 4] },
  ],
}

export const cumulativeMax = defineFunction({
  name: 'cumulative_max',
  family: 'ordered',
  signature: '(value: number) -> number',
  unit: 'same',
  errors: [],
  form: 'ordered',
  clauses: ['by', 'order by'],
  inOrder: ({ args }) => {
    let most: number | null = null
    return running(args[0] ?? [], (cell) => {
      if (cell !== null && (most === null || (cell as number) > most)) most = cell as number
      return most
    })
  },
})
