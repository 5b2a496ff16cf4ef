import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { textsOf } from '../kernel-rows.js'
import { joinValues } from './join-values.js'

export const joinGuide: FunctionGuide = {
  doc: 'Joins values with a separator between them.',
  blanks: 'blank values are skipped with their separator; blank only if all are blank or the separator is',
  examples: [
    { formula: "join('-', 'LM', blank, 23)", gives: 'LM-23' },
    { formula: "join(', ', blank, blank)", gives: null },
    { formula: "join(' ', @2026-03-14, true)", gives: '2026-03-14 true' },
  ],
}

export const join = defineFunction({
  name: 'join',
  family: 'text',
  signature: '(separator: text, ...values: any) -> text',
  errors: ['too-long'],
  kernel: (call) => {
    const separators = textsOf(call, 0)
    joinValues(call, 1, (row) => separators[row] as string)
  },
})
