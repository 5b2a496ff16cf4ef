import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberResults, perRow } from '../kernel-rows.js'

export const nowGuide: FunctionGuide = {
  doc: 'The date and time of the book’s clock, which moves only when it is told to.',
  blanks: 'has no arguments',
  examples: [
    { formula: 'now() = now()', gives: true },
    { formula: 'now() >= today()', gives: true },
  ],
}

export const now = defineFunction({
  name: 'now',
  family: 'date',
  signature: '() -> datetime',
  errors: [],
  movesWithClock: true,
  kernel: (call) => {
    const results = numberResults(call)
    perRow(call, (row) => {
      results[row] = call.surroundings.now
    })
  },
})
