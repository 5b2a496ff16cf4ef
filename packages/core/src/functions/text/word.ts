import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textsOf } from '../kernel-rows.js'
import { pickPiece } from './pick-piece.js'

export const wordGuide: FunctionGuide = {
  doc: 'One word of a text, cut at white space; words count from 1, or from the end when negative. Blank if there is no such word.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "word('  Lower   Meadow ', 2)", gives: 'Meadow' },
    { formula: "word('Lower Meadow', -2)", gives: 'Lower' },
    { formula: "word('Lower', 3)", gives: null },
    { formula: "word('Lower', 0)", fails: 'out-of-range' },
  ],
}

export const word = defineFunction({
  name: 'word',
  family: 'text',
  signature: '(text: text, place: number) -> text',
  errors: ['out-of-range'],
  kernel: (call) => {
    const texts = textsOf(call, 0)
    pickPiece(call, 1, (row) => (texts[row] as string).split(/\s+/u).filter((piece) => piece !== ''))
  },
})
