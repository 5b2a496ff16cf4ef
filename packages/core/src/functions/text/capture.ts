import { Status } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, numbersOf, textResults, textsOf } from '../kernel-rows.js'
import { perPattern, regularPattern } from './patterns.js'

export const captureGuide: FunctionGuide = {
  doc: 'The part of a text that a pattern finds: its first group, or the whole find where it has none, unless another group is asked for (0 is the whole). Blank if nothing is found.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "capture('LM-07-23', '-([0-9]+)-')", gives: '07' },
    { formula: "capture('LM-07-23', '[0-9]+')", gives: '07' },
    { formula: "capture('LM-07-23', '([A-Z]+)-([0-9]+)', 2)", gives: '07' },
    { formula: "capture('comb', '[0-9]+')", gives: null },
    { formula: "capture('comb', '(')", fails: 'bad-pattern' },
    { formula: "capture('comb', 'c', 1)", fails: 'out-of-range' },
  ],
}

export const capture = defineFunction({
  name: 'capture',
  family: 'text',
  signature: '(text: text, pattern: text, group?: number) -> text',
  errors: ['bad-pattern', 'out-of-range'],
  textRule: regularPattern,
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const groups = call.args.length > 2 ? numbersOf(call, 2) : null
    const results = textResults(call)
    perPattern(call, (row, pattern) => {
      const matcher = pattern.matcher(texts[row] as string)
      const group = groups === null ? Math.min(1, matcher.groupCount()) : (groups[row] as number)
      if (!(Number.isInteger(group) && group >= 0 && group <= matcher.groupCount())) {
        failRow(call, row, 'out-of-range')
        return
      }
      const found = matcher.find() ? matcher.group(group) : null
      if (found === null) call.out.status[row] = Status.blank
      else results[row] = found
    })
  },
})
