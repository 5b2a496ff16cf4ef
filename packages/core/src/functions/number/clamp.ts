import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, numberResults, numbersOf, perRow } from '../kernel-rows.js'

export const clampGuide: FunctionGuide = {
  doc: 'Keeps a number between two others, both included.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'clamp(12, 0, 10)', gives: 10 },
    { formula: 'clamp(blank, 0, 10)', gives: null },
    { formula: 'clamp(5, 10, 0)', fails: 'out-of-range' },
  ],
}

export const clamp = defineFunction({
  name: 'clamp',
  family: 'number',
  signature: '(value: number, low: number, high: number) -> number',
  unit: 'alike',
  errors: ['out-of-range'],
  kernel: (call) => {
    const values = numbersOf(call, 0)
    const lows = numbersOf(call, 1)
    const highs = numbersOf(call, 2)
    const results = numberResults(call)
    perRow(call, (row) => {
      const low = lows[row] as number
      const high = highs[row] as number
      if (low > high) failRow(call, row, 'out-of-range')
      else results[row] = Math.min(Math.max(values[row] as number, low), high)
    })
  },
})
