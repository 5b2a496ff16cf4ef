import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textsOf } from '../kernel-rows.js'
import { pickPiece } from './pick-piece.js'

export const splitPartGuide: FunctionGuide = {
  doc: 'One piece of a text cut at a separator; pieces count from 1, or from the end when negative. Blank if there is no such piece.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "split_part('LM-07-23', '-', 2)", gives: '07' },
    { formula: "split_part('LM-07-23', '-', -1)", gives: '23' },
    { formula: "split_part('LM', '-', 2)", gives: null },
    { formula: "split_part('LM', '-', 0)", fails: 'out-of-range' },
  ],
}

export const splitPart = defineFunction({
  name: 'split_part',
  family: 'text',
  signature: '(text: text, separator: text, place: number) -> text',
  errors: ['out-of-range'],
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const separators = textsOf(call, 1)
    pickPiece(call, 2, (row) => {
      const separator = separators[row] as string
      return separator === '' ? [texts[row] as string] : (texts[row] as string).split(separator)
    })
  },
})
