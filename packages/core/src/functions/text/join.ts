import { defineFunction } from '../define.js'
import { textsOf } from '../kernel-rows.js'
import { joinValues } from './join-values.js'

export const join = defineFunction({
  name: 'join',
  family: 'text',
  signature: '(separator: text, ...values: any) -> text',
  doc: 'Joins values with a separator between them.',
  blanks: 'blank values are skipped with their separator; blank only if all are blank or the separator is',
  errors: ['too-long'],
  examples: [
    { formula: "join('-', 'LM', blank, 23)", gives: 'LM-23' },
    { formula: "join(', ', blank, blank)", gives: null },
    { formula: "join(' ', @2026-03-14, true)", gives: '2026-03-14 true' },
  ],
  kernel: (call) => {
    const separators = textsOf(call, 0)
    joinValues(call, 1, (row) => separators[row] as string)
  },
})
