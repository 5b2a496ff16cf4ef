import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, textResults, textsOf } from '../kernel-rows.js'
import { perPattern, regularPattern, replaceAll } from './patterns.js'

export const replacePatternGuide: FunctionGuide = {
  doc: 'A text with everything that a pattern finds replaced; $1 in the new text is the first group of the find, $$ a dollar sign.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "replace_pattern('LM 07  23', ' +', '-')", gives: 'LM-07-23' },
    { formula: "replace_pattern('07/23', '([0-9]+)/([0-9]+)', '$2.$1')", gives: '23.07' },
    { formula: "replace_pattern('5', '[0-9]', '$$')", gives: '$' },
    { formula: "replace_pattern('comb', '(', '')", fails: 'bad-pattern' },
  ],
}

export const replacePattern = defineFunction({
  name: 'replace_pattern',
  family: 'text',
  signature: '(text: text, pattern: text, by: text) -> text',
  errors: ['bad-pattern', 'too-long'],
  textRule: regularPattern,
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const inserts = textsOf(call, 2)
    const results = textResults(call)
    perPattern(call, (row, pattern) => {
      const made = replaceAll(texts[row] as string, pattern, inserts[row] as string)
      if (made === null) failRow(call, row, 'too-long')
      else results[row] = made
    })
  },
})
