import { ExactSum } from '../../values/index.js'
import { numberCell } from '../aggregate/exact-rows.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { running } from './neighbours.js'

export const cumulativeSumGuide: FunctionGuide = {
  doc: 'The exact total of a value up to and with the row.',
  blanks: 'a blank adds nothing and shows the total so far; blank before the first value',
  examples: [
    { formula: 'cumulative_sum(kg)', over: { kg: [3, 5, 4] }, givesRows: [3, 8, 12] },
    { formula: 'cumulative_sum(kg)', over: { kg: [3, null, 4] }, givesRows: [3, 3, 7] },
    { formula: 'if_error(cumulative_sum(kg), 0)', over: { kg: [1e308, 1e308] }, givesRows: [1e308, 0] },
    { formula: 'cumulative_sum(2 * kg)', over: { kg: [1e308] }, fails: 'out-of-range' },
  ],
}

export const cumulativeSum = defineFunction({
  name: 'cumulative_sum',
  family: 'ordered',
  signature: '(value: number) -> number',
  unit: 'same',
  errors: ['out-of-range'],
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
      return count === 0 ? null : numberCell(sum.result())
    })
  },
})
