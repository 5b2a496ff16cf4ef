import type { Vector } from '../../columns/index.js'
import { compileDatePrinter, compileNumberPattern, MS_PER_DAY, type ValueType } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, perRow, putText, textResults, textsOf } from '../kernel-rows.js'
import { displayAt } from './join-values.js'

export const textGuide: FunctionGuide = {
  doc: 'A value as text. Without a pattern numbers have up to 15 significant digits and dates are ISO 8601; with one, numbers and dates are written as Unicode TR35 has it, in the book’s locale.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'text(12.50)', gives: '12.5' },
    { formula: 'text(@2026-03-14T09:30:00)', gives: '2026-03-14T09:30:00' },
    { formula: "text(1234.5, '#,##0.00')", gives: '1,234.50' },
    { formula: "text(0.256, '0.0%')", gives: '25.6%' },
    { formula: "text(@2026-03-14, 'EEEE d MMMM y')", gives: 'Saturday 14 March 2026' },
    { formula: "text(1, 'abc')", fails: 'bad-pattern' },
  ],
}

export const text = defineFunction({
  name: 'text',
  family: 'text',
  signature: '(value: any, pattern?: text) -> text',
  errors: ['bad-pattern', 'too-long'],
  textRule: {
    argument: 1,
    expects: "a number pattern such as '#,##0.00', or for dates one such as 'd MMMM y'",
    isUsable: (pattern, types) => printer(pattern, types[0], 'en') !== null,
    fault: 'bad-pattern',
  },
  kernel: (call) => {
    const vector = call.args[0] as Vector
    const results = textResults(call)
    if (call.args.length === 1) {
      perRow(call, (row) => {
        results[row] = displayAt(vector, row, call.types[0] as ValueType)
      })
      return
    }
    const patterns = textsOf(call, 1)
    let known: string | undefined
    let print: ((value: number) => string) | null = null
    perRow(call, (row) => {
      if (patterns[row] !== known) {
        known = patterns[row] as string
        print = printer(known, call.types[0], call.surroundings.locale)
      }
      if (print === null) failRow(call, row, 'bad-pattern')
      else putText(call, results, row, print(vector.values[row] as number))
    })
  },
})

/** How values of the first argument are written; null where the pattern is none for its type. */
function printer(pattern: string, type: string | undefined, locale: string): ((value: number) => string) | null {
  if (type === 'number' || type === 'integer') return compileNumberPattern(pattern, locale)?.print ?? null
  if (type !== 'date' && type !== 'datetime') return null
  const print = compileDatePrinter(pattern, locale)
  if (print === null) return null
  return type === 'date' ? (epochDay) => print(epochDay * MS_PER_DAY) : print
}
