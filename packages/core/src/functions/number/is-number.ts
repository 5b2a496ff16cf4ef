import { parseNumberText } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { booleanResults, perRow, textsOf } from '../kernel-rows.js'

export const isNumberGuide: FunctionGuide = {
  doc: 'Whether number() can read a text.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: "is_number('-1e3')", gives: true },
    { formula: "is_number('n/a')", gives: false },
  ],
}

export const isNumber = defineFunction({
  name: 'is_number',
  family: 'number',
  signature: '(text: text) -> boolean',
  errors: [],
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const results = booleanResults(call)
    perRow(call, (row) => {
      results[row] = Number.isNaN(parseNumberText(texts[row] as string)) ? 0 : 1
    })
  },
})
