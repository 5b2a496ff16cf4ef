import { defineFunction } from '../define.js'
import { textKernel } from '../kernel-rows.js'

export const upper = defineFunction({
  name: 'upper',
  family: 'text',
  signature: '(text: text) -> text',
  doc: 'A text in capital letters, by the rules of the book’s locale.',
  blanks: 'a blank gives blank',
  errors: ['too-long'],
  examples: [
    { formula: "upper('heather')", gives: 'HEATHER' },
    { formula: "upper('straße')", gives: 'STRASSE' },
  ],
  kernel: textKernel((text, call) => text.toLocaleUpperCase(call.surroundings.locale)),
})
