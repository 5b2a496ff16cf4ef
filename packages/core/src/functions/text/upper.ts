import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textKernel } from '../kernel-rows.js'

export const upperGuide: FunctionGuide = {
  doc: 'A text in capital letters, by the rules of the book’s locale.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: "upper('heather')", gives: 'HEATHER' },
    { formula: "upper('straße')", gives: 'STRASSE' },
  ],
}

export const upper = defineFunction({
  name: 'upper',
  family: 'text',
  signature: '(text: text) -> text',
  errors: ['too-long'],
  kernel: textKernel((text, call) => text.toLocaleUpperCase(call.surroundings.locale)),
})
