import { dayOfCivil, daysInMonth } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, numberResults, numbersOf, perRow } from '../kernel-rows.js'

export const dateGuide: FunctionGuide = {
  doc: 'The date of a year, month and day; one that does not exist is an error.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'date(2028, 2, 29)', gives: '2028-02-29' },
    { formula: 'date(2027, 2, 29)', fails: 'out-of-range' },
  ],
}

export const date = defineFunction({
  name: 'date',
  family: 'date',
  signature: '(year: number, month: number, day: number) -> date',
  errors: ['out-of-range'],
  kernel: (call) => {
    const years = numbersOf(call, 0)
    const months = numbersOf(call, 1)
    const days = numbersOf(call, 2)
    const results = numberResults(call)
    perRow(call, (row) => {
      const year = years[row] as number
      const month = months[row] as number
      const day = days[row] as number
      const exists =
        Number.isInteger(year) &&
        Number.isInteger(month) &&
        Number.isInteger(day) &&
        year >= 1 &&
        year <= 9999 &&
        month >= 1 &&
        month <= 12 &&
        day >= 1 &&
        day <= daysInMonth(year, month)
      if (exists) results[row] = dayOfCivil(year, month, day)
      else failRow(call, row, 'out-of-range')
    })
  },
})
