import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { partKernel } from './part-of.js'

export const substringGuide: FunctionGuide = {
  doc: 'So many characters of a text from a place on; places count from 1.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "substring('LM-07-23', 4, 2)", gives: '07' },
    { formula: "substring('comb', 9, 2)", gives: '' },
    { formula: "substring('comb', 0, 2)", fails: 'out-of-range' },
  ],
}

export const substring = defineFunction({
  name: 'substring',
  family: 'text',
  signature: '(text: text, start: number, count: number) -> text',
  errors: ['out-of-range'],
  kernel: partKernel((characters, start, count) =>
    start < 1 || count < 0 ? null : [start - 1, Math.min(characters, start - 1 + count)],
  ),
})
