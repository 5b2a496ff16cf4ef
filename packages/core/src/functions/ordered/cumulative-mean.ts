import { ExactSum } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { running } from './neighbours.js'

export const cumulativeMeanGuide: FunctionGuide = {
  doc: 'The exact mean of a value up to and with the row.',
  blanks: 'a blank adds nothing and shows the total so far; blank before the first value',
  examples: [
    { formula: 'cumulative_mean(kg)', over: { kg: [3, 5, 4] }, givesRows: [3, 4, 4] },
    { formula: 'cumulative_mean(kg)', over: { kg: [3, null, 4] }, givesRows: [3, 3, 3.5] },
  ],
}

export const cumulativeMean = defineFunction({
  name: 'cumulative_mean',
  family: 'ordered',
  signature: '(value: number) -> number',
  unit: 'same',
  errors: [],
  form: 'ordered',
  clauses: ['by', 'order by'],
  inOrder: ({ args }) => {
    const sum = new ExactSum()
    let count = 0
    return running(args[0] ?? [], (cell) => {
      if (cell !== null) {
        sum.add(cell as number)
        count++
      }
      return count === 0 ? null : sum.times(1, count)
    })
  },
})
