import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { truthKernel } from './truth-kernel.js'

export const anyOfGuide: FunctionGuide = {
  doc: 'Whether any of several conditions of a row is true; blank ones are skipped.',
  blanks: 'blanks are skipped; blank if there is no value',
  examples: [
    { formula: 'any_of(false, blank, true)', gives: true },
    { formula: 'any_of(false, blank)', gives: false },
    { formula: 'any_of(blank)', gives: null },
    { formula: 'any_of(true, 1 / 0 = 1)', gives: true },
  ],
}

export const anyOf = defineFunction({
  name: 'any_of',
  family: 'across',
  signature: '(...values: boolean) -> boolean',
  errors: [],
  kernel: truthKernel(1),
})
