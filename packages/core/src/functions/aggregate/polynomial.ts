import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { fitCoefficient } from './polynomial-fit.js'

export const polynomialGuide: FunctionGuide = {
  doc: 'The coefficient of x to the k in the polynomial of a degree that fits y to x best over rows, by least squares. Dates count as days from the smallest.',
  blanks: 'rows with a blank are left out; blank for too few rows',
  examples: [
    { formula: 'polynomial(y, x, 1, 0)', over: { y: [3, 5, 7], x: [1, 2, 3] }, gives: 1 },
    { formula: 'polynomial(y, x, 1, 2)', over: { y: [3, 5, 7], x: [1, 2, 3] }, fails: 'out-of-range' },
  ],
}

export const polynomial = defineFunction({
  name: 'polynomial',
  family: 'aggregate',
  signature: '(y: number, x: number | date | datetime, degree: number, k: number) -> number',
  unit: 'coefficient',
  errors: ['out-of-range'],
  form: 'aggregate',
  clauses: ['via', 'below', 'where', 'by', 'order by'],
  gather: ({ args, types }) => {
    const [degree, k] = [args[2]?.[0] ?? null, args[3]?.[0] ?? null]
    if (typeof degree !== 'number' || typeof k !== 'number') return null
    return fitCoefficient(args[0] ?? [], args[1] ?? [], {
      degree,
      k,
      time: types[1] === 'date' || types[1] === 'datetime' ? types[1] : null,
    })
  },
})
