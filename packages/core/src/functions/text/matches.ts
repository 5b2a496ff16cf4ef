import { RE2JS, RE2JSSyntaxException } from 're2js'
import { defineFunction } from '../define.js'
import { booleanResults, failRow, perRow, textsOf } from '../kernel-rows.js'

export const matches = defineFunction({
  name: 'matches',
  family: 'text',
  signature: '(text: text, pattern: text) -> boolean',
  doc: 'Whether a pattern occurs anywhere in a text. Patterns have the RE2 syntax, whose time is linear in the text.',
  blanks: 'any blank argument gives blank',
  errors: ['bad-pattern'],
  examples: [
    { formula: "matches('LM-07-23', '^[A-Z]{2}-[0-9]+')", gives: true },
    { formula: "matches('comb', 'x')", gives: false },
    { formula: "matches('comb', '(')", fails: 'bad-pattern' },
  ],
  purposes: ['regular expression', 'check a format'],
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const patterns = textsOf(call, 1)
    const results = booleanResults(call)
    let known: string | undefined
    let compiled: RE2JS | null = null
    perRow(call, (row) => {
      const pattern = patterns[row] as string
      if (pattern !== known) {
        known = pattern
        compiled = compilePattern(pattern)
      }
      if (compiled === null) failRow(call, row, 'bad-pattern')
      else results[row] = compiled.test(texts[row] as string) ? 1 : 0
    })
  },
})

function compilePattern(pattern: string): RE2JS | null {
  try {
    return RE2JS.compile(pattern)
  } catch (error) {
    if (error instanceof RE2JSSyntaxException) return null
    throw error
  }
}
