import { compileDatePattern } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { failRow, numberResults, perRow, textsOf } from '../kernel-rows.js'

export const parseDateGuide: FunctionGuide = {
  doc: 'The date that a text means by a pattern of Unicode TR35 (y M d, H m s for a time); a date-time when the pattern has a time. The pattern is written out, not taken from a column.',
  blanks: 'a blank text gives blank',
  examples: [
    { formula: "parse_date('14.03.2026', 'dd.MM.yyyy')", gives: '2026-03-14' },
    { formula: "parse_date('14 March 2026 09:30', 'd MMMM y HH:mm')", gives: '2026-03-14T09:30:00' },
    { formula: "parse_date('29.02.2027', 'dd.MM.yyyy')", fails: 'misfit' },
  ],
}

export const parseDate = defineFunction({
  name: 'parse_date',
  family: 'date',
  signature: '(text: text, pattern: text) -> date',
  errors: ['misfit'],
  textRule: {
    argument: 1,
    expects: "a date pattern with year, month and day, such as 'dd.MM.yyyy'",
    isUsable: (pattern) => !('unreadable' in compileDatePattern(pattern)),
    fault: 'misfit',
    isConstant: true,
  },
  resultType: (pattern) => {
    const compiled = compileDatePattern(pattern)
    return 'hasTime' in compiled && compiled.hasTime ? 'datetime' : 'date'
  },
  kernel: (call) => {
    const texts = textsOf(call, 0)
    const patterns = textsOf(call, 1)
    const results = numberResults(call)
    let known: string | undefined
    let parse: (text: string) => number = () => Number.NaN
    perRow(call, (row) => {
      if (patterns[row] !== known) {
        known = patterns[row] as string
        const compiled = compileDatePattern(known, call.surroundings.locale)
        parse = 'unreadable' in compiled ? () => Number.NaN : compiled.parse
      }
      const value = parse(texts[row] as string)
      if (Number.isNaN(value)) failRow(call, row, 'misfit')
      else results[row] = value
    })
  },
})
