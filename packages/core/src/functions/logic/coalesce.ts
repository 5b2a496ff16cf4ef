import { defineFunction } from '../define.js'

export const coalesce = defineFunction({
  name: 'coalesce',
  family: 'logic',
  signature: '(...values: T) -> T',
  doc: 'The first value that is not blank. Later ones are looked at only when needed.',
  blanks: 'blank only if every value is',
  errors: [],
  examples: [
    { formula: 'coalesce(blank, 3, 1 / 0)', gives: 3 },
    { formula: 'coalesce(blank, blank)', gives: null },
    { formula: 'coalesce(1 / 0, 3)', fails: 'division-by-zero' },
  ],
  form: 'coalesce',
})
