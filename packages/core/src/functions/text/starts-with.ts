import { defineFunction } from '../define.js'
import { textTestKernel } from './find-in.js'

export const startsWith = defineFunction({
  name: 'starts_with',
  family: 'text',
  signature: '(text: text, start: text) -> boolean',
  doc: 'Whether a text begins with another.',
  blanks: 'any blank argument gives blank',
  errors: [],
  examples: [
    { formula: "starts_with('LM-07', 'LM')", gives: true },
    { formula: "starts_with('LM-07', blank)", gives: null },
  ],
  kernel: textTestKernel((text, start) => text.startsWith(start)),
})
