import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textKernel } from '../kernel-rows.js'

export const trimGuide: FunctionGuide = {
  doc: 'A text without the white space around it.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: "trim('  Lower Meadow ')", gives: 'Lower Meadow' },
    { formula: "trim('   ')", gives: '' },
  ],
}

export const trim = defineFunction({
  name: 'trim',
  family: 'text',
  signature: '(text: text) -> text',
  errors: [],
  kernel: textKernel((text) => text.trim()),
})
