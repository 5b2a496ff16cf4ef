import type { Vector } from '../../columns/index.js'
import type { ValueType } from '../../values/index.js'
import { defineFunction } from '../define.js'
import { perRow, textResults } from '../kernel-rows.js'
import { displayAt } from './join-values.js'

export const text = defineFunction({
  name: 'text',
  family: 'text',
  signature: '(value: any) -> text',
  doc: 'A value as text: numbers to 15 significant digits, dates in ISO 8601.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: 'text(12.50)', gives: '12.5' },
    { formula: 'text(@2026-03-14T09:30:00)', gives: '2026-03-14T09:30:00' },
  ],
  purposes: ['number to text', 'convert'],
  kernel: (call) => {
    const vector = call.args[0] as Vector
    const results = textResults(call)
    perRow(call, (row) => {
      results[row] = displayAt(vector, row, call.types[0] as ValueType)
    })
  },
})
