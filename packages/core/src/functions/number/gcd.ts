import { greatestCommonDivisor } from '../../values/index.js'
import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { foldKernel } from './fold-kernel.js'

export const gcdGuide: FunctionGuide = {
  doc: 'The greatest whole number that divides all of some whole numbers.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'gcd(12, 18)', gives: 6 },
    { formula: 'gcd(0, 5)', gives: 5 },
    { formula: 'gcd(12, 18, 8)', gives: 2 },
    { formula: 'gcd(1.5, 3)', fails: 'out-of-range' },
  ],
}

export const gcd = defineFunction({
  name: 'gcd',
  family: 'number',
  signature: '(first: number, ...others: number) -> number',
  unit: 'alike',
  errors: ['out-of-range'],
  kernel: foldKernel(greatestCommonDivisor),
})
