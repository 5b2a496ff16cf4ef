import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { exactSum, numberCell, numbersOfCells } from './exact-rows.js'

export const sumGuide: FunctionGuide = {
  doc: 'The exact total of a value over rows, rounded once; it does not depend on the order of the rows.',
  blanks: 'blanks are skipped; blank if there is no value',
  examples: [
    { formula: 'sum(kg)', over: { kg: [12, null, 8] }, gives: 20 },
    { formula: 'sum(kg by hive)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, givesRows: [20, 5, 20] },
    { formula: 'sum(kg where kg > 6)', over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, gives: 20 },
    { formula: 'sum(kg)', over: { kg: [null] }, gives: null },
    { formula: 'sum(kg)', over: { kg: [1e308, 1e308] }, fails: 'out-of-range' },
  ],
}

export const sum = defineFunction({
  name: 'sum',
  family: 'aggregate',
  signature: '(value: number) -> number',
  unit: 'same',
  errors: ['out-of-range'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const values = numbersOfCells(args[0] ?? [])
    return values.length === 0 ? null : numberCell(exactSum(values).result())
  },
})
