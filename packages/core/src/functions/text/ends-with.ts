import { defineFunction } from '../define.js'
import { textTestKernel } from './find-in.js'

export const endsWith = defineFunction({
  name: 'ends_with',
  family: 'text',
  signature: '(text: text, end: text) -> boolean',
  doc: 'Whether a text ends with another.',
  blanks: 'any blank argument gives blank',
  errors: [],
  examples: [
    { formula: "ends_with('LM-07', '07')", gives: true },
    { formula: "ends_with('', 'x')", gives: false },
  ],
  kernel: textTestKernel((text, end) => text.endsWith(end)),
})
