import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { integrals } from './steps.js'

export const integralGuide: FunctionGuide = {
  doc: 'The area under y over t up to the row, in the order of t, by the trapezoid rule; it starts at 0.',
  blanks: 'rows with a blank give blank and are bridged',
  examples: [
    { formula: 'integral(cm, day)', over: { cm: [0, 2, 8], day: [0, 1, 3] }, givesRows: [0, 1, 11] },
    { formula: 'integral(cm, day)', over: { cm: [0, null, 8], day: [0, 1, 3] }, givesRows: [0, null, 12] },
    { formula: 'integral(cm * 10, day)', over: { cm: [1e308], day: [0] }, fails: 'out-of-range' },
  ],
}

export const integral = defineFunction({
  name: 'integral',
  family: 'ordered',
  signature: '(y: number, t: number | date | datetime) -> number',
  unit: 'area',
  errors: ['out-of-range'],
  form: 'ordered',
  clauses: ['by'],
  inOrder: ({ args, types }) => integrals(args, types),
  orderArgument: 1,
})
