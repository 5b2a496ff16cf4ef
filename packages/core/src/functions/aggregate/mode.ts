import type { Scalar } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { extremeOf, valuesOf } from './sorted-values.js'

export const modeGuide: FunctionGuide = {
  doc: 'The commonest value over rows; of equally common ones the smallest.',
  blanks: 'blanks are skipped; blank if there is no value',
  examples: [
    { formula: 'mode(hive)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, gives: 'A' },
    { formula: 'mode(kg)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, gives: 5 },
  ],
}

export const mode = defineFunction({
  name: 'mode',
  family: 'aggregate',
  signature: '(value: any) -> same',
  unit: 'same',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const counts = new Map<Scalar, number>()
    for (const value of valuesOf(args[0] ?? [])) counts.set(value, (counts.get(value) ?? 0) + 1)
    let most = 0
    for (const count of counts.values()) most = Math.max(most, count)
    return extremeOf(
      [...counts].flatMap(([value, count]) => (count === most ? [value] : [])),
      1,
    )
  },
  ofSorted: (values) => values.commonest(),
})
