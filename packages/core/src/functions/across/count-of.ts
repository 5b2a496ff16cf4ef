import { defineFunction } from '../define.js'
import { countKernel } from './count-kernel.js'

export const countOf = defineFunction({
  name: 'count_of',
  family: 'across',
  signature: '(...values: any) -> number',
  doc: 'How many of several columns of a row have a value.',
  blanks: 'blanks are not counted; over no values it is 0',
  errors: [],
  examples: [
    { formula: "count_of(1, blank, 'x')", gives: 2 },
    { formula: 'count_of(blank, blank)', gives: 0 },
  ],
  kernel: countKernel,
})
