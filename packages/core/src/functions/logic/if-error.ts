import { defineFunction } from '../define.js'

export const ifError = defineFunction({
  name: 'if_error',
  family: 'logic',
  signature: '(value: T, otherwise: T) -> T',
  doc: 'A value, or another one where it is an error.',
  blanks: 'a blank value stays blank',
  errors: [],
  examples: [
    { formula: 'if_error(1 / 0, 0)', gives: 0 },
    { formula: 'if_error(blank, 0)', gives: null },
  ],
  form: 'if_error',
})
