import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textTestKernel } from './find-in.js'

export const startsWithGuide: FunctionGuide = {
  doc: 'Whether a text begins with another.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "starts_with('LM-07', 'LM')", gives: true },
    { formula: "starts_with('LM-07', blank)", gives: null },
  ],
}

export const startsWith = defineFunction({
  name: 'starts_with',
  family: 'text',
  signature: '(text: text, start: text) -> boolean',
  errors: [],
  kernel: textTestKernel((text, start) => text.startsWith(start)),
})
