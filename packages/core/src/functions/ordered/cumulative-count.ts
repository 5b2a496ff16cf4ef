import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { running } from './neighbours.js'

export const cumulativeCountGuide: FunctionGuide = {
  doc: 'How many values there are up to and with the row.',
  blanks: 'blanks are not counted',
  examples: [
    { formula: 'cumulative_count(kg)', over: { kg: [3, 5, 4] }, givesRows: [1, 2, 3] },
    { formula: 'cumulative_count(kg)', over: { kg: [3, null, 4] }, givesRows: [1, 1, 2] },
  ],
}

export const cumulativeCount = defineFunction({
  name: 'cumulative_count',
  family: 'ordered',
  signature: '(value: any) -> number',
  unit: 'plain',
  errors: [],
  form: 'ordered',
  clauses: ['by', 'order by'],
  inOrder: ({ args }) => {
    let count = 0
    return running(args[0] ?? [], (cell) => (cell === null ? count : ++count))
  },
})
