import { defineFunction } from '../define.js'
import { textTestKernel } from './find-in.js'

export const contains = defineFunction({
  name: 'contains',
  family: 'text',
  signature: '(text: text, part: text) -> boolean',
  doc: 'Whether a text has another in it, code point by code point.',
  blanks: 'any blank argument gives blank',
  errors: [],
  examples: [
    { formula: "contains('queen seen', 'queen')", gives: true },
    { formula: "contains('Queen', 'queen')", gives: false },
  ],
  kernel: textTestKernel((text, part) => text.includes(part)),
})
