import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { truthKernel } from './truth-kernel.js'

export const allOfGuide: FunctionGuide = {
  doc: 'Whether all of several conditions of a row are true; blank ones are skipped.',
  blanks: 'blanks are skipped; blank if there is no value',
  examples: [
    { formula: 'all_of(true, blank, true)', gives: true },
    { formula: 'all_of(true, false)', gives: false },
    { formula: 'all_of(blank)', gives: null },
    { formula: 'all_of(false, 1 / 0 = 1)', gives: false },
  ],
}

export const allOf = defineFunction({
  name: 'all_of',
  family: 'across',
  signature: '(...values: boolean) -> boolean',
  errors: [],
  kernel: truthKernel(0),
})
