import { LARGEST_WHOLE, seededUniform } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, numberResults, numbersOf, perRow } from '../kernel-rows.js'

export const randomBetweenGuide: FunctionGuide = {
  doc: 'A whole number from one to another, both included, that stays the same for its row until the book’s clock ticks.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'random_between(1, 6) between 1 and 6', gives: true },
    { formula: 'random_between(3, 3)', gives: 3 },
    { formula: 'random_between(6, 1)', fails: 'out-of-range' },
    { formula: 'random_between(0.5, 2)', fails: 'out-of-range' },
  ],
}

export const randomBetween = defineFunction({
  name: 'random_between',
  family: 'number',
  signature: '(low: number, high: number) -> number',
  unit: 'alike',
  errors: ['out-of-range'],
  movesWithClock: true,
  kernel: (call) => {
    const lows = numbersOf(call, 0)
    const highs = numbersOf(call, 1)
    const results = numberResults(call)
    const { seed } = call.surroundings
    const { column, ordinal } = call.place
    perRow(call, (row) => {
      const low = lows[row] as number
      const high = highs[row] as number
      const count = high - low + 1
      const fits = Number.isInteger(low) && Number.isInteger(high) && count >= 1 && count <= LARGEST_WHOLE
      if (fits) results[row] = low + Math.floor(seededUniform(seed, column, ordinal, call.place.rowIdOf(row)) * count)
      else failRow(call, row, 'out-of-range')
    })
  },
})
