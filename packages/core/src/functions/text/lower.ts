import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textKernel } from '../kernel-rows.js'

export const lowerGuide: FunctionGuide = {
  doc: 'A text in small letters, by the rules of the book’s locale.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: "lower('HEATHER')", gives: 'heather' },
    { formula: 'lower(blank)', gives: null },
  ],
}

export const lower = defineFunction({
  name: 'lower',
  family: 'text',
  signature: '(text: text) -> text',
  errors: ['too-long'],
  kernel: textKernel((text, call) => text.toLocaleLowerCase(call.surroundings.locale)),
})
