import { defineFunction } from '../define.js'
import { partKernel } from './part-of.js'

export const right = defineFunction({
  name: 'right',
  family: 'text',
  signature: '(text: text, count: number) -> text',
  doc: 'The last characters of a text.',
  blanks: 'any blank argument gives blank',
  errors: ['out-of-range'],
  examples: [
    { formula: "right('LM-07', 2)", gives: '07' },
    { formula: "right('é', 1)", gives: 'é' },
    { formula: "right('ab', 0.5)", fails: 'out-of-range' },
  ],
  kernel: partKernel((characters, count) => (count < 0 ? null : [Math.max(0, characters - count), characters])),
})
