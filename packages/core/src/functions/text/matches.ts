import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { booleanResults, textsOf } from '../kernel-rows.js'
import { perPattern, regularPattern } from './patterns.js'

export const matchesGuide: FunctionGuide = {
  doc: 'Whether a pattern occurs anywhere in a text. Patterns have the RE2 syntax, whose time is linear in the text.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "matches('LM-07-23', '^[A-Z]{2}-[0-9]+')", gives: true },
    { formula: "matches('comb', 'x')", gives: false },
    { formula: "matches('comb', '(')", fails: 'bad-pattern' },
  ],
}

export const matches = defineFunction({
  name: 'matches',
  family: 'text',
  signature: '(text: text, pattern: text) -> boolean',
  errors: ['bad-pattern'],
  textRule: regularPattern,
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const results = booleanResults(call)
    perPattern(call, (row, pattern) => {
      results[row] = pattern.test(texts[row] as string) ? 1 : 0
    })
  },
})
