import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { partKernel } from './part-of.js'

export const rightGuide: FunctionGuide = {
  doc: 'The last characters of a text.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "right('LM-07', 2)", gives: '07' },
    { formula: "right('é', 1)", gives: 'é' },
    { formula: "right('ab', 0.5)", fails: 'out-of-range' },
  ],
}

export const right = defineFunction({
  name: 'right',
  family: 'text',
  signature: '(text: text, count: number) -> text',
  errors: ['out-of-range'],
  kernel: partKernel((characters, count) => (count < 0 ? null : [Math.max(0, characters - count), characters])),
})
