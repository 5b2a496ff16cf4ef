import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberResults, perRow } from '../kernel-rows.js'

export const eGuide: FunctionGuide = {
  doc: 'The base of natural logarithms, 2.71828….',
  blanks: 'has no arguments',
  examples: [
    { formula: 'floor(e() * 1000)', gives: 2718 },
    { formula: 'ln(e())', gives: 1 },
  ],
}

export const e = defineFunction({
  name: 'e',
  family: 'number',
  signature: '() -> number',
  unit: 'plain',
  errors: [],
  kernel: (call) => {
    const results = numberResults(call)
    perRow(call, (row) => {
      results[row] = Math.E
    })
  },
})
