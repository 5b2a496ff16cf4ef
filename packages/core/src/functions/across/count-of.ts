import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { countKernel } from './count-kernel.js'

export const countOfGuide: FunctionGuide = {
  doc: 'How many of several columns of a row have a value.',
  blanks: 'blanks are not counted; over no values it is 0',
  examples: [
    { formula: "count_of(1, blank, 'x')", gives: 2 },
    { formula: 'count_of(blank, blank)', gives: 0 },
  ],
}

export const countOf = defineFunction({
  name: 'count_of',
  family: 'across',
  signature: '(...values: any) -> number',
  unit: 'plain',
  errors: [],
  kernel: countKernel,
})
