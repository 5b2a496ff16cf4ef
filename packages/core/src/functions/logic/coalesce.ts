import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const coalesceGuide: FunctionGuide = {
  doc: 'The first value that is not blank. Later ones are looked at only when needed.',
  blanks: 'blank only if every value is',
  examples: [
    { formula: 'coalesce(blank, 3, 1 / 0)', gives: 3 },
    { formula: 'coalesce(blank, blank)', gives: null },
    { formula: 'coalesce(1 / 0, 3)', fails: 'division-by-zero' },
  ],
}

export const coalesce = defineFunction({
  name: 'coalesce',
  family: 'logic',
  signature: '(...values: T) -> T',
  errors: [],
  form: 'coalesce',
})
