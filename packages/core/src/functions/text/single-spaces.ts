import { defineFunction } from '../define.js'
import { textKernel } from '../kernel-rows.js'

export const singleSpaces = defineFunction({
  name: 'single_spaces',
  family: 'text',
  signature: '(text: text) -> text',
  doc: 'A text without the white space around it, each run of white space inside being one space.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: "single_spaces('  Lower   Meadow ')", gives: 'Lower Meadow' },
    { formula: "single_spaces('   ')", gives: '' },
  ],
  formerNames: ['normalize_spaces'],
  kernel: textKernel((text) => text.trim().replace(/\s+/gu, ' ')),
})
