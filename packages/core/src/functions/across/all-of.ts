import { defineFunction } from '../define.js'
import { truthKernel } from './truth-kernel.js'

export const allOf = defineFunction({
  name: 'all_of',
  family: 'across',
  signature: '(...values: boolean) -> boolean',
  doc: 'Whether all of several conditions of a row are true; blank ones are skipped.',
  blanks: 'blanks are skipped; blank if there is no value',
  errors: [],
  examples: [
    { formula: 'all_of(true, blank, true)', gives: true },
    { formula: 'all_of(true, false)', gives: false },
    { formula: 'all_of(blank)', gives: null },
    { formula: 'all_of(false, 1 / 0 = 1)', gives: false },
  ],
  kernel: truthKernel(0),
})
