import { defineFunction } from '../define.js'
import { joinValues } from './join-values.js'

export const concat = defineFunction({
  name: 'concat',
  family: 'text',
  signature: '(...values: any) -> text',
  doc: 'Joins values without anything between them.',
  blanks: 'blank values are skipped; blank only if all are blank',
  errors: ['too-long'],
  examples: [
    { formula: "concat('LM', blank, 7)", gives: 'LM7' },
    { formula: 'concat(0.1 + 0.2)', gives: '0.3' },
  ],
  kernel: (call) => joinValues(call, 0, () => ''),
})
