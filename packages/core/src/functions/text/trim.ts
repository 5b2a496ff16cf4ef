import { defineFunction } from '../define.js'
import { textKernel } from '../kernel-rows.js'

export const trim = defineFunction({
  name: 'trim',
  family: 'text',
  signature: '(text: text) -> text',
  doc: 'A text without the white space around it.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: "trim('  Lower Meadow ')", gives: 'Lower Meadow' },
    { formula: "trim('   ')", gives: '' },
  ],
  kernel: textKernel((text) => text.trim()),
})
