import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { padKernel } from './pad-kernel.js'

export const padEndGuide: FunctionGuide = {
  doc: 'A text filled up at its end to so many characters, with spaces unless another character is given.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "pad_end('7', 3, '.')", gives: '7..' },
    { formula: "pad_end('1234', 3)", gives: '1234' },
    { formula: "pad_end('7', 3, 'ab')", fails: 'out-of-range' },
  ],
}

export const padEnd = defineFunction({
  name: 'pad_end',
  family: 'text',
  signature: '(text: text, width: number, filler?: text) -> text',
  errors: ['out-of-range', 'too-long'],
  kernel: padKernel((text, filling) => text + filling),
})
