import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { divisionKernel } from '../kernel-rows.js'

export const modGuide: FunctionGuide = {
  doc: 'What is left after dividing; it has the sign of the divisor.',
  blanks: 'any blank argument gives blank',
  examples: [
    { formula: 'mod(7, 3)', gives: 1 },
    { formula: 'mod(-7, 3)', gives: 2 },
    { formula: 'mod(7, 0)', fails: 'division-by-zero' },
  ],
}

export const mod = defineFunction({
  name: 'mod',
  family: 'number',
  signature: '(value: number, divisor: number) -> number',
  unit: 'alike',
  errors: ['division-by-zero'],
  kernel: divisionKernel((value, divisor) => {
    // The engine's % is exact with the sign of the value; one addition moves it to the divisor's side.
    const rest = value % divisor
    return rest !== 0 && rest < 0 !== divisor < 0 ? rest + divisor : rest
  }),
})
