import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const ifFunctionGuide: FunctionGuide = {
  doc: 'One of two values. Only true takes the first; a blank condition takes the second, an error condition gives the error.',
  blanks: 'a blank condition takes the second value',
  examples: [
    { formula: "if(3 > 2, 'more', 'less')", gives: 'more' },
    { formula: 'if(blank, 1, 2)', gives: 2 },
    { formula: 'if(true, 1, 1 / 0)', gives: 1 },
  ],
}

export const ifFunction = defineFunction({
  name: 'if',
  family: 'logic',
  signature: '(condition: boolean, then: T, else: T) -> T',
  errors: [],
  form: 'if',
})
