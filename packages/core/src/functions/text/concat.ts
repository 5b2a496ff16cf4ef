import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { joinValues } from './join-values.js'

export const concatGuide: FunctionGuide = {
  doc: 'Joins values without anything between them.',
  blanks: 'blank values are skipped; blank only if all are blank',
  examples: [
    { formula: "concat('LM', blank, 7)", gives: 'LM7' },
    { formula: 'concat(0.1 + 0.2)', gives: '0.3' },
  ],
}

export const concat = defineFunction({
  name: 'concat',
  family: 'text',
  signature: '(...values: any) -> text',
  errors: ['too-long'],
  kernel: (call) => joinValues(call, 0, () => ''),
})
