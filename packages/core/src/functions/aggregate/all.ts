import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { decideBy } from './decide-by.js'

export const allTrueGuide: FunctionGuide = {
  doc: 'Whether a condition is true on all of the rows.',
  blanks: 'blanks are skipped; blank if there is no value',
  examples: [
    { formula: 'all(kg > 10)', over: { kg: [12, null, 8] }, gives: false },
    { formula: 'all(kg > 5)', over: { kg: [12, null, 8] }, gives: true },
  ],
}

export const allTrue = defineFunction({
  name: 'all',
  family: 'aggregate',
  signature: '(condition: boolean) -> boolean',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => decideBy(args[0] ?? [], false),
  deciding: false,
  mindsErrors: true,
})
