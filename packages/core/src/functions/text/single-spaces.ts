import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textKernel } from '../kernel-rows.js'

export const singleSpacesGuide: FunctionGuide = {
  doc: 'A text without the white space around it, each run of white space inside being one space.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: "single_spaces('  Lower   Meadow ')", gives: 'Lower Meadow' },
    { formula: "single_spaces('   ')", gives: '' },
  ],
}

export const singleSpaces = defineFunction({
  name: 'single_spaces',
  family: 'text',
  signature: '(text: text) -> text',
  errors: [],
  formerNames: ['normalize_spaces'],
  kernel: textKernel((text) => text.trim().replace(/\s+/gu, ' ')),
})
