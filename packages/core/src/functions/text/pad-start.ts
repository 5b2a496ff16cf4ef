import { graphemeCount } from '../../values/index.js'
import { defineFunction } from '../define.js'
import { failRow, numbersOf, perRow, putText, textResults, textsOf } from '../kernel-rows.js'

export const padStart = defineFunction({
  name: 'pad_start',
  family: 'text',
  signature: '(text: text, width: number, filler?: text) -> text',
  doc: 'A text filled up at its start to so many characters, with spaces unless another character is given.',
  blanks: 'any blank argument gives blank',
  errors: ['out-of-range', 'too-long'],
  examples: [
    { formula: "pad_start('7', 3, '0')", gives: '007' },
    { formula: "pad_start('1234', 3, '0')", gives: '1234' },
    { formula: "pad_start('7', 3, 'ab')", fails: 'out-of-range' },
  ],
  purposes: ['leading zeros', 'align'],
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const widths = numbersOf(call, 1)
    const fillers = call.args.length > 2 ? textsOf(call, 2) : null
    const results = textResults(call)
    perRow(call, (row) => {
      const text = texts[row] as string
      const filler = fillers === null ? ' ' : (fillers[row] as string)
      const missing = (widths[row] as number) - graphemeCount(text)
      if (!Number.isInteger(missing) || graphemeCount(filler) !== 1) failRow(call, row, 'out-of-range')
      else if (missing * filler.length > 1_000_000) failRow(call, row, 'too-long')
      else putText(call, results, row, missing > 0 ? filler.repeat(missing) + text : text)
    })
  },
})
