import type { Cell } from '../../columns/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numbersOfCells } from './exact-rows.js'
import { valueAtPlace } from './sorted-values.js'

function medianOf(size: number, at: (place: number) => number): Cell {
  return size === 0 ? null : valueAtPlace(at, BigInt(size - 1), 1)
}

export const medianGuide: FunctionGuide = {
  doc: 'The middle value over rows; of an even count the exact mean of the middle two.',
  blanks: 'blanks are skipped; blank if there is no value',
  examples: [
    { formula: 'median(kg)', over: { kg: [12, null, 8] }, gives: 10 },
    { formula: 'median(kg)', over: { kg: [1, 3, 100] }, gives: 3 },
  ],
}

export const median = defineFunction({
  name: 'median',
  family: 'aggregate',
  signature: '(value: number) -> number',
  unit: 'same',
  errors: [],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const values = numbersOfCells(args[0] ?? []).sort((a, b) => a - b)
    return medianOf(values.length, (place) => values[place] as number)
  },
  ofSorted: (values) => medianOf(values.size, (place) => values.at(place) as number),
})
