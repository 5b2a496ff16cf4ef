import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const firstOfGuide: FunctionGuide = {
  doc: 'The first of several columns of a row that has a value, as coalesce gives it.',
  blanks: 'blank only if every value is',
  examples: [
    { formula: 'first_of(blank, 3, 1 / 0)', gives: 3 },
    { formula: 'first_of(blank, blank)', gives: null },
  ],
}

export const firstOf = defineFunction({
  name: 'first_of',
  family: 'across',
  signature: '(...values: T) -> T',
  errors: [],
  form: 'coalesce',
})
