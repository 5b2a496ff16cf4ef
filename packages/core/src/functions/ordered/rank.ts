import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { ranksOf } from './ranks.js'

export const rankGuide: FunctionGuide = {
  doc: 'The place of a value among the rows, from 1 for the smallest; desc begins with the largest. Equal values share a place and leave gaps.',
  blanks: 'a blank has no rank: blank',
  examples: [
    { formula: 'rank(kg)', over: { kg: [3, 5, 4] }, givesRows: [1, 3, 2] },
    { formula: 'rank(kg desc)', over: { kg: [3, 5, 4] }, givesRows: [3, 1, 2] },
    { formula: 'rank(kg)', over: { kg: [3, 3, 4] }, givesRows: [1, 1, 3] },
  ],
}

export const rank = defineFunction({
  name: 'rank',
  family: 'ordered',
  signature: '(value: number | text | date | datetime) -> number',
  unit: 'plain',
  errors: [],
  form: 'ordered',
  clauses: ['by', 'order by', 'desc'],
  inOrder: ({ args }) => ranksOf(args[0] ?? [], false),
  orderArgument: 0,
})
