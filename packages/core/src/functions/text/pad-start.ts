import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { padKernel } from './pad-kernel.js'

export const padStartGuide: FunctionGuide = {
  doc: 'A text filled up at its start to so many characters, with spaces unless another character is given.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "pad_start('7', 3, '0')", gives: '007' },
    { formula: "pad_start('1234', 3, '0')", gives: '1234' },
    { formula: "pad_start('7', 3, 'ab')", fails: 'out-of-range' },
  ],
}

export const padStart = defineFunction({
  name: 'pad_start',
  family: 'text',
  signature: '(text: text, width: number, filler?: text) -> text',
  errors: ['out-of-range', 'too-long'],
  kernel: padKernel((text, filling) => filling + text),
})
