import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textTestKernel } from './find-in.js'

export const containsGuide: FunctionGuide = {
  doc: 'Whether a text has another in it, code point by code point.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "contains('queen seen', 'queen')", gives: true },
    { formula: "contains('Queen', 'queen')", gives: false },
  ],
}

export const contains = defineFunction({
  name: 'contains',
  family: 'text',
  signature: '(text: text, part: text) -> boolean',
  errors: [],
  kernel: textTestKernel((text, part) => text.includes(part)),
})
