import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, LONGEST_TEXT, perRow, textResults, textsOf } from '../kernel-rows.js'

export const replaceGuide: FunctionGuide = {
  doc: 'A text with every occurrence of one text replaced by another; an empty text to find changes nothing.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "replace('LM 07 23', ' ', '-')", gives: 'LM-07-23' },
    { formula: "replace('comb', '', 'x')", gives: 'comb' },
  ],
}

export const replace = defineFunction({
  name: 'replace',
  family: 'text',
  signature: '(text: text, find: text, by: text) -> text',
  errors: ['too-long'],
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const sought = textsOf(call, 1)
    const inserts = textsOf(call, 2)
    const results = textResults(call)
    perRow(call, (row) => {
      const find = sought[row] as string
      if (find === '') {
        results[row] = texts[row] as string
        return
      }
      const pieces = (texts[row] as string).split(find)
      const by = inserts[row] as string
      const kept = (texts[row] as string).length - (pieces.length - 1) * find.length
      // Measured before it is made: a short formula must not be able to fill the memory.
      if (kept + (pieces.length - 1) * by.length > LONGEST_TEXT) failRow(call, row, 'too-long')
      else results[row] = pieces.join(by)
    })
  },
})
