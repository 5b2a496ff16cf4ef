import { seededUniform } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberResults, perRow } from '../kernel-rows.js'

export const randomGuide: FunctionGuide = {
  doc: 'A number from 0 up to, not including, 1, that stays the same for its row until the book’s clock ticks.',
  blanks: 'has no arguments',
  examples: [
    { formula: 'random() >= 0 and random() < 1', gives: true },
    { formula: 'random() is error', gives: false },
  ],
}

export const random = defineFunction({
  name: 'random',
  family: 'number',
  signature: '() -> number',
  unit: 'plain',
  errors: [],
  movesWithClock: true,
  kernel: (call) => {
    const results = numberResults(call)
    const { seed } = call.surroundings
    const { column, ordinal } = call.place
    perRow(call, (row) => {
      results[row] = seededUniform(seed, column, ordinal, call.place.rowIdOf(row))
    })
  },
})
