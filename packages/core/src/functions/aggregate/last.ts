import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const lastGuide: FunctionGuide = {
  doc: 'The value of the last row, in row order or the order asked for.',
  blanks: 'blank rows are skipped; blank if there is no value',
  examples: [
    { formula: 'last(kg)', over: { kg: [12, null, 8] }, gives: 8 },
    { formula: 'last(kg order by kg)', over: { kg: [12, null, 8] }, gives: 12 },
  ],
}

export const last = defineFunction({
  name: 'last',
  family: 'aggregate',
  signature: '(value: any) -> same',
  unit: 'same',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => args[0]?.findLast((cell) => cell !== null) ?? null,
  end: 'last',
  mindsErrors: true,
})
