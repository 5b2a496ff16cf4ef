import { graphemeCount } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberResults, perRow, textsOf } from '../kernel-rows.js'

export const lengthGuide: FunctionGuide = {
  doc: 'How many characters a text has, as its reader counts them.',
  blanks: 'a blank gives blank; an empty text has length 0',
  examples: [
    { formula: "length('comb')", gives: 4 },
    { formula: "length('👩‍🌾🐝')", gives: 2 },
    { formula: "length('')", gives: 0 },
  ],
}

export const length = defineFunction({
  name: 'length',
  family: 'text',
  signature: '(text: text) -> number',
  unit: 'plain',
  errors: [],
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const results = numberResults(call)
    perRow(call, (row) => {
      results[row] = graphemeCount(texts[row] as string)
    })
  },
})
