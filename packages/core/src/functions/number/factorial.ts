import { factorial as product } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { numberKernel } from '../kernel-rows.js'

export const factorialGuide: FunctionGuide = {
  doc: 'The product of the whole numbers up to one: in how many orders so many things can stand.',
  blanks: 'a blank gives blank',
  examples: [
    { formula: 'factorial(5)', gives: 120 },
    { formula: 'factorial(0)', gives: 1 },
    { formula: 'factorial(-1)', fails: 'out-of-range' },
    { formula: 'factorial(171)', fails: 'out-of-range' },
  ],
}

export const factorial = defineFunction({
  name: 'factorial',
  family: 'number',
  signature: '(value: number) -> number',
  unit: 'plain',
  errors: ['out-of-range'],
  kernel: numberKernel(product),
})
