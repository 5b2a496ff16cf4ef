import { defineFunction } from '../define.js'

export const last = defineFunction({
  name: 'last',
  family: 'aggregate',
  signature: '(value: any) -> same',
  doc: 'The value of the last row, in row order or the order asked for.',
  blanks: 'blank rows are skipped; blank if there is no value',
  errors: [],
  examples: [
    { formula: 'last(kg)', over: { kg: [12, null, 8] }, gives: 8 },
    { formula: 'last(kg order by kg)', over: { kg: [12, null, 8] }, gives: 12 },
  ],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => args[0]?.findLast((cell) => cell !== null) ?? null,
  end: 'last',
  mindsErrors: true,
})
