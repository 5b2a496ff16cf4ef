import { CellFault } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const lookupGuide: FunctionGuide = {
  doc: 'The value of the one row that a condition finds.',
  blanks: 'none found gives blank',
  examples: [
    { formula: "lookup(kg where hive = 'B')", over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, gives: 5 },
    { formula: "lookup(kg where hive = 'A')", over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, fails: 'many-matches' },
  ],
}

export const lookup = defineFunction({
  name: 'lookup',
  family: 'aggregate',
  signature: '(value: any) -> same',
  unit: 'same',
  errors: ['many-matches'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args, count }) => (count > 1 ? new CellFault('many-matches') : (args[0]?.[0] ?? null)),
  mindsErrors: true,
})
