import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'

export const ifErrorGuide: FunctionGuide = {
  doc: 'A value, or another one where it is an error.',
  blanks: 'a blank value stays blank',
  examples: [
    { formula: 'if_error(1 / 0, 0)', gives: 0 },
    { formula: 'if_error(blank, 0)', gives: null },
  ],
}

export const ifError = defineFunction({
  name: 'if_error',
  family: 'logic',
  signature: '(value: T, otherwise: T) -> T',
  errors: [],
  form: 'if_error',
})
