import type { Cell } from '../../columns/index.js'
import { CellFault, exactParts } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numbersOfCells } from './exact-rows.js'
import { valueAtPlace } from './sorted-values.js'

function percentileOf(size: number, at: (place: number) => number, p: Cell): Cell {
  if (size === 0 || typeof p !== 'number') return null
  if (!(p >= 0 && p <= 1)) return new CellFault('out-of-range')
  const { mantissa, exponent } = exactParts(p)
  const bits = Math.max(0, -exponent)
  return valueAtPlace(at, BigInt(size - 1) * (mantissa << BigInt(Math.max(0, exponent))), bits)
}

export const percentileGuide: FunctionGuide = {
  doc: 'The value that a part p of the rows (0 to 1) does not exceed, linear between the rows at place (n − 1) · p.',
  blanks: 'blanks are skipped; blank if there is no value',
  examples: [
    { formula: 'percentile(kg, 0.5)', over: { kg: [12, null, 8] }, gives: 10 },
    { formula: 'percentile(kg, 25%)', over: { kg: [1, 2, 3, 4, 5] }, gives: 2 },
    { formula: 'percentile(kg, 2)', over: { kg: [12, null, 8] }, fails: 'out-of-range' },
  ],
}

export const percentile = defineFunction({
  name: 'percentile',
  family: 'aggregate',
  signature: '(value: number, p: number) -> number',
  unit: 'same',
  errors: ['out-of-range'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args }) => {
    const p = args[1]?.[0] ?? null
    const values = numbersOfCells(args[0] ?? []).sort((a, b) => a - b)
    return percentileOf(values.length, (place) => values[place] as number, p)
  },
  ofSorted: (values, p) => percentileOf(values.size, (place) => values.at(place) as number, p),
})
