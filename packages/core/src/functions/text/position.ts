import { graphemeCount } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberResults, perRow, textsOf } from '../kernel-rows.js'

export const positionGuide: FunctionGuide = {
  doc: 'The place of the first occurrence of one text in another, from 1; 0 if there is none.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "position('-', 'LM-07')", gives: 3 },
    { formula: "position('x', 'LM-07')", gives: 0 },
    { formula: "position('b', '👩‍🌾é b')", gives: 4 },
  ],
}

export const position = defineFunction({
  name: 'position',
  family: 'text',
  signature: '(needle: text, text: text) -> number',
  unit: 'plain',
  errors: [],
  kernel: (call) => {
    const needles = textsOf(call, 0)
    const texts = textsOf(call, 1)
    const results = numberResults(call)
    perRow(call, (row) => {
      const text = texts[row] as string
      const at = text.indexOf(needles[row] as string)
      results[row] = at < 0 ? 0 : graphemeCount(text.slice(0, at)) + 1
    })
  },
})
