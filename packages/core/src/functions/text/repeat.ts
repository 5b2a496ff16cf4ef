import { defineFunction } from '../define.js'
import { failRow, LONGEST_TEXT, numbersOf, perRow, textResults, textsOf } from '../kernel-rows.js'

export const repeat = defineFunction({
  name: 'repeat',
  family: 'text',
  signature: '(text: text, count: number) -> text',
  doc: 'A text so many times over.',
  blanks: 'any blank argument gives blank',
  errors: ['out-of-range', 'too-long'],
  examples: [
    { formula: "repeat('ab', 3)", gives: 'ababab' },
    { formula: "repeat('ab', 0)", gives: '' },
    { formula: "repeat('ab', -1)", fails: 'out-of-range' },
  ],
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
