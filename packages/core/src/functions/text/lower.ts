import { defineFunction } from '../define.js'
import { textKernel } from '../kernel-rows.js'

export const lower = defineFunction({
  name: 'lower',
  family: 'text',
  signature: '(text: text) -> text',
  doc: 'A text in small letters, by the rules of the book’s locale.',
  blanks: 'a blank gives blank',
  errors: ['too-long'],
  examples: [
    { formula: "lower('HEATHER')", gives: 'heather' },
    { formula: 'lower(blank)', gives: null },
  ],
  kernel: textKernel((text, call) => text.toLocaleLowerCase(call.surroundings.locale)),
})
