import { defineFunction } from '../define.js'
import { numberResults, perRow } from '../kernel-rows.js'

export const now = defineFunction({
  name: 'now',
  family: 'date',
  signature: '() -> datetime',
  doc: 'The date and time of the book’s clock, which moves only when it is told to.',
  blanks: 'has no arguments',
  errors: [],
  examples: [
    { formula: 'now() = now()', gives: true },
    { formula: 'now() >= today()', gives: true },
  ],
  movesWithClock: true,
  kernel: (call) => {
    const results = numberResults(call)
    perRow(call, (row) => {
      results[row] = call.surroundings.now
    })
  },
})
