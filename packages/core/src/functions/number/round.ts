import { roundDecimal } from '../../values/index.js'
import { defineFunction } from '../define.js'
import { failRow, numberResults, numbersOf, perRow, putNumber } from '../kernel-rows.js'

export const round = defineFunction({
  name: 'round',
  family: 'number',
  signature: '(value: number, digits?: number) -> number',
  doc: 'Rounds to so many decimal places (0 unless given), half away from zero, on the decimal that the number prints as.',
  blanks: 'any blank argument gives blank',
  errors: ['out-of-range'],
  examples: [
    { formula: 'round(1.005, 2)', gives: 1.01 },
    { formula: 'round(-2.5)', gives: -3 },
    { formula: 'round(1250, -2)', gives: 1300 },
    { formula: 'round(1, 0.5)', fails: 'out-of-range' },
  ],
  purposes: ['decimal places', 'nearest'],
  kernel: (call) => {
    const values = numbersOf(call, 0)
    const digits = call.args.length > 1 ? numbersOf(call, 1) : null
    const results = numberResults(call)
    perRow(call, (row) => {
      const places = digits === null ? 0 : (digits[row] as number)
      if (Number.isInteger(places)) putNumber(call, results, row, roundDecimal(values[row] as number, places))
      else failRow(call, row, 'out-of-range')
    })
  },
})
