import { defineFunction } from '../define.js'
import { padKernel } from './pad-kernel.js'

export const padEnd = defineFunction({
  name: 'pad_end',
  family: 'text',
  signature: '(text: text, width: number, filler?: text) -> text',
  doc: 'A text filled up at its end to so many characters, with spaces unless another character is given.',
  blanks: 'any blank argument gives blank',
  errors: ['out-of-range', 'too-long'],
  examples: [
    { formula: "pad_end('7', 3, '.')", gives: '7..' },
    { formula: "pad_end('1234', 3)", gives: '1234' },
    { formula: "pad_end('7', 3, 'ab')", fails: 'out-of-range' },
  ],
  kernel: padKernel((text, filling) => text + filling),
})
