import { defineFunction } from '../define.js'
import { textKernel } from '../kernel-rows.js'

export const normalizeSpaces = defineFunction({
  name: 'normalize_spaces',
  family: 'text',
  signature: '(text: text) -> text',
  doc: 'A text without the white space around it, each run of white space inside being one space.',
  blanks: 'a blank gives blank',
  errors: [],
  examples: [
    { formula: "normalize_spaces('  Lower   Meadow ')", gives: 'Lower Meadow' },
    { formula: "normalize_spaces('   ')", gives: '' },
  ],
  purposes: ['clean', 'double spaces'],
  kernel: textKernel((text) => text.trim().replace(/\s+/gu, ' ')),
})
