import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textTestKernel } from './find-in.js'

export const endsWithGuide: FunctionGuide = {
  doc: 'Whether a text ends with another.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "ends_with('LM-07', '07')", gives: true },
    { formula: "ends_with('', 'x')", gives: false },
  ],
}

export const endsWith = defineFunction({
  name: 'ends_with',
  family: 'text',
  signature: '(text: text, end: text) -> boolean',
  errors: [],
  kernel: textTestKernel((text, end) => text.endsWith(end)),
})
