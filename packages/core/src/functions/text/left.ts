import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { partKernel } from './part-of.js'

export const leftGuide: FunctionGuide = {
  doc: 'The first characters of a text.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "left('LM-07', 2)", gives: 'LM' },
    { formula: "left('ab', 9)", gives: 'ab' },
    { formula: "left('ab', -1)", fails: 'out-of-range' },
  ],
}

export const left = defineFunction({
  name: 'left',
  family: 'text',
  signature: '(text: text, count: number) -> text',
  errors: ['out-of-range'],
  kernel: partKernel((characters, count) => (count < 0 ? null : [0, Math.min(count, characters)])),
})
