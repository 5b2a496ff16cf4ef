import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberResults, perRow } from '../kernel-rows.js'

export const piGuide: FunctionGuide = {
  doc: 'The ratio of a circle to its diameter, 3.14159….',
  blanks: 'has no arguments',
  examples: [
    { formula: 'floor(pi() * 1000)', gives: 3141 },
    { formula: 'pi() > 3', gives: true },
  ],
}

export const pi = defineFunction({
  name: 'pi',
  family: 'number',
  signature: '() -> number',
  unit: { number: Math.PI },
  errors: [],
  kernel: (call) => {
    const results = numberResults(call)
    perRow(call, (row) => {
      results[row] = Math.PI
    })
  },
})
