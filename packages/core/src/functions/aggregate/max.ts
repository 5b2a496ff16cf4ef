import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { extremeOf } from './sorted-values.js'

export const maxGuide: FunctionGuide = {
  doc: 'The largest value over rows.',
  blanks: 'blanks are skipped; blank if there is no value',
  examples: [
    { formula: 'max(kg)', over: { kg: [12, null, 8] }, gives: 12 },
    { formula: 'max(kg by hive)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, givesRows: [12, 5, 12] },
  ],
}

export const max = defineFunction({
  name: 'max',
  family: 'aggregate',
  signature: '(value: number | text | date | datetime) -> same',
  unit: 'same',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => extremeOf(args[0] ?? [], -1),
  ofSorted: (values) => (values.size === 0 ? null : values.at(values.size - 1)),
})
