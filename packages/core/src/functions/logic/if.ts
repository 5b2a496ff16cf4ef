import { defineFunction } from '../define.js'

export const ifFunction = defineFunction({
  name: 'if',
  family: 'logic',
  signature: '(condition: boolean, then: T, else: T) -> T',
  doc: 'One of two values. Only true takes the first; a blank condition takes the second, an error condition gives the error.',
  blanks: 'a blank condition takes the second value',
  errors: [],
  examples: [
    { formula: "if(3 > 2, 'more', 'less')", gives: 'more' },
    { formula: 'if(blank, 1, 2)', gives: 2 },
    { formula: 'if(true, 1, 1 / 0)', gives: 1 },
  ],
  form: 'if',
})
