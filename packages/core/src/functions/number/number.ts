import { compileNumberPattern, parseNumberText } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, numberResults, perRow, textsOf } from '../kernel-rows.js'

export const numberGuide: FunctionGuide = {
  doc: 'The number that a text stands for: a sign, digits with at most one point, an exponent, nothing around it; with a pattern of Unicode TR35, as that writes it in the book’s locale.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: "number('12.50')", gives: 12.5 },
    { formula: "number('1,234.5', '#,##0.##')", gives: 1234.5 },
    { formula: "number('12.5%', '0.#%')", gives: 0.125 },
    { formula: "number('12 kg')", fails: 'misfit' },
    { formula: "number('12', 'abc')", fails: 'bad-pattern' },
  ],
}

export const number = defineFunction({
  name: 'number',
  family: 'number',
  signature: '(text: text, pattern?: text) -> number',
  errors: ['misfit', 'bad-pattern'],
  textRule: {
    argument: 1,
    expects: "a number pattern such as '#,##0.00'",
    isUsable: (pattern) => compileNumberPattern(pattern, 'en') !== null,
    fault: 'bad-pattern',
  },
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const patterns = call.args.length > 1 ? textsOf(call, 1) : null
    const results = numberResults(call)
    let known: string | undefined
    let parse: ((text: string) => number) | null = parseNumberText
    perRow(call, (row) => {
      if (patterns !== null && patterns[row] !== known) {
        known = patterns[row] as string
        parse = compileNumberPattern(known, call.surroundings.locale)?.parse ?? null
      }
      const value = parse === null ? Number.NaN : parse(texts[row] as string)
      if (parse === null) failRow(call, row, 'bad-pattern')
      else if (Number.isNaN(value)) failRow(call, row, 'misfit')
      else results[row] = value
    })
  },
})
