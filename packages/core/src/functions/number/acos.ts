import { defineFunction } from '../define.js'
import { numberKernel } from '../kernel-rows.js'

export const acos = defineFunction({
  name: 'acos',
  family: 'number',
  signature: '(value: number) -> number',
  doc: 'The angle in radians that has this cosine, from 0 to π.',
  blanks: 'a blank gives blank',
  errors: ['out-of-range'],
  examples: [
    { formula: 'acos(1)', gives: 0 },
    { formula: 'round(degrees(acos(0)), 6)', gives: 90 },
    { formula: 'acos(-1.5)', fails: 'out-of-range' },
  ],
  kernel: numberKernel(Math.acos),
})
