import { defineFunction } from '../define.js'
import { padKernel } from './pad-kernel.js'

export const padStart = defineFunction({
  name: 'pad_start',
  family: 'text',
  signature: '(text: text, width: number, filler?: text) -> text',
  doc: 'A text filled up at its start to so many characters, with spaces unless another character is given.',
  blanks: 'any blank argument gives blank',
  errors: ['out-of-range', 'too-long'],
  examples: [
    { formula: "pad_start('7', 3, '0')", gives: '007' },
    { formula: "pad_start('1234', 3, '0')", gives: '1234' },
    { formula: "pad_start('7', 3, 'ab')", fails: 'out-of-range' },
  ],
  kernel: padKernel((text, filling) => filling + text),
})
