import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { derivatives } from './steps.js'

export const derivativeGuide: FunctionGuide = {
  doc: 'How fast y grows with t, per unit of t or per day, in the order of t: the three-point formula for uneven steps, one-sided at the ends.',
  blanks: 'rows with a blank give blank and are bridged',
  examples: [
    {
      formula: 'derivative(cm, day)',
      over: { cm: [0, 2, 8], day: [0, 1, 3] },
      givesRows: [1.6666666666666667, 2.3333333333333335, 3.6666666666666665],
    },
    { formula: 'derivative(cm, day)', over: { cm: [1, 2], day: [1, 1] }, fails: 'division-by-zero' },
  ],
}

export const derivative = defineFunction({
  name: 'derivative',
  family: 'ordered',
  signature: '(y: number, t: number | date | datetime) -> number',
  unit: 'slope',
  errors: ['division-by-zero'],
  form: 'ordered',
  clauses: ['by'],
  inOrder: ({ args, types }) => derivatives(args, types),
  orderArgument: 1,
})
