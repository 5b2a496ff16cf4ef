import { powerOf } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, numberResults, numbersOf, perRow, putNumber } from '../kernel-rows.js'

export const powerGuide: FunctionGuide = {
  doc: 'A number to a power, as base ^ exponent has it.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'power(2, 10)', gives: 1024 },
    { formula: 'power(10, -5)', gives: 0.00001 },
    { formula: 'power(0, 0)', gives: 1 },
    { formula: 'power(0, -1)', fails: 'division-by-zero' },
    { formula: 'power(-8, 0.5)', fails: 'out-of-range' },
  ],
}

export const power = defineFunction({
  name: 'power',
  family: 'number',
  signature: '(base: number, exponent: number) -> number',
  unit: 'power',
  errors: ['division-by-zero', 'out-of-range'],
  kernel: (call) => {
    const bases = numbersOf(call, 0)
    const exponents = numbersOf(call, 1)
    const results = numberResults(call)
    perRow(call, (row) => {
      const base = bases[row] as number
      const exponent = exponents[row] as number
      if (base === 0 && exponent < 0) failRow(call, row, 'division-by-zero')
      else putNumber(call, results, row, powerOf(base, exponent))
    })
  },
})
