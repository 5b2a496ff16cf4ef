import { parseNumberText } from '../../values/index.js'
import { defineFunction } from '../define.js'
import { failRow, numberResults, perRow, textsOf } from '../kernel-rows.js'

export const number = defineFunction({
  name: 'number',
  family: 'number',
  signature: '(text: text) -> number',
  doc: 'The number that a text stands for: a sign, digits with at most one point, an exponent, nothing around it.',
  blanks: 'a blank gives blank',
  errors: ['misfit'],
  examples: [
    { formula: "number('12.50')", gives: 12.5 },
    { formula: "number('12 kg')", fails: 'misfit' },
  ],
  purposes: ['text to number', 'convert'],
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const results = numberResults(call)
    perRow(call, (row) => {
      const value = parseNumberText(texts[row] as string)
      if (Number.isNaN(value)) failRow(call, row, 'misfit')
      else results[row] = value
    })
  },
})
