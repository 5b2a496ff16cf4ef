import { CellFault, displayScalar, type ValueType } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { LONGEST_TEXT } from '../kernel-rows.js'

export const joinRowsGuide: FunctionGuide = {
  doc: 'The values of rows joined into one text, in row order or the order asked for.',
  blanks: 'blanks are skipped; blank if there is no value',
  examples: [
    { formula: "join_rows(hive, ', ')", over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, gives: 'A, B, A' },
    { formula: "join_rows(kg, '-' order by kg)", over: { hive: ['A', 'B', 'A'], kg: [12, 5, 8] }, gives: '5-8-12' },
  ],
}

export const joinRows = defineFunction({
  name: 'join_rows',
  family: 'aggregate',
  signature: '(value: any, separator: text) -> text',
  errors: ['too-long'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args, types }) => {
    const separators = args[1] ?? []
    let text: string | null = null
    for (const [row, cell] of (args[0] ?? []).entries()) {
      const separator = separators[row] ?? null
      if (cell === null || cell instanceof CellFault || separator === null) continue
      const part = displayScalar(cell, types[0] as ValueType)
      text = text === null ? part : text + separator + part
      if (text.length > LONGEST_TEXT) return new CellFault('too-long')
    }
    return text
  },
})
