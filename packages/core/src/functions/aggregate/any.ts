import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { decideBy } from './decide-by.js'

export const anyTrueGuide: FunctionGuide = {
  doc: 'Whether a condition is true on any of the rows.',
  blanks: 'blanks are skipped; blank if there is no value',
  examples: [
    { formula: 'any(kg > 10)', over: { kg: [12, null, 8] }, gives: true },
    { formula: 'any(kg > 50)', over: { kg: [12, null, 8] }, gives: false },
  ],
}

export const anyTrue = defineFunction({
  name: 'any',
  family: 'aggregate',
  signature: '(condition: boolean) -> boolean',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => decideBy(args[0] ?? [], true),
  deciding: true,
  mindsErrors: true,
})
