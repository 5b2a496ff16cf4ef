import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const firstGuide: FunctionGuide = {
  doc: 'The value of the first row, in row order or the order asked for, whatever it is.',
  blanks: 'blank rows are skipped; blank if there is no value',
  examples: [
    { formula: 'first(kg)', over: { kg: [12, null, 8] }, gives: 12 },
    { formula: 'first(kg order by kg)', over: { kg: [12, null, 8] }, gives: 8 },
  ],
}

export const first = defineFunction({
  name: 'first',
  family: 'aggregate',
  signature: '(value: any) -> same',
  unit: 'same',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => args[0]?.find((cell) => cell !== null) ?? null,
  end: 'first',
  mindsErrors: true,
})
