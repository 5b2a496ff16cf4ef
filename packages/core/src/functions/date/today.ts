import { MS_PER_DAY } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberResults, perRow } from '../kernel-rows.js'

export const todayGuide: FunctionGuide = {
  doc: 'The date of the book’s clock, which moves only when it is told to.',
  blanks: 'has no arguments',
  examples: [
    { formula: 'today() = today()', gives: true },
    { formula: 'days_between(today(), today())', gives: 0 },
  ],
}

export const today = defineFunction({
  name: 'today',
  family: 'date',
  signature: '() -> date',
  errors: [],
  movesWithClock: true,
  kernel: (call) => {
    const results = numberResults(call)
    const epochDay = Math.floor(call.surroundings.now / MS_PER_DAY)
    perRow(call, (row) => {
      results[row] = epochDay
    })
  },
})
