import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, LONGEST_TEXT, numbersOf, perRow, textResults, textsOf } from '../kernel-rows.js'

export const repeatGuide: FunctionGuide = {
  doc: 'A text so many times over.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "repeat('ab', 3)", gives: 'ababab' },
    { formula: "repeat('ab', 0)", gives: '' },
    { formula: "repeat('ab', -1)", fails: 'out-of-range' },
  ],
}

export const repeat = defineFunction({
  name: 'repeat',
  family: 'text',
  signature: '(text: text, count: number) -> text',
  errors: ['out-of-range', 'too-long'],
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const counts = numbersOf(call, 1)
    const results = textResults(call)
    perRow(call, (row) => {
      const text = texts[row] as string
      const count = counts[row] as number
      if (!Number.isInteger(count) || count < 0) failRow(call, row, 'out-of-range')
      // Measured before it is made: a short formula must not be able to fill the memory.
      else if (text.length * count > LONGEST_TEXT) failRow(call, row, 'too-long')
      else results[row] = text.repeat(text === '' ? 0 : count)
    })
  },
})
