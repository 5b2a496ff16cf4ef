import { defineFunction } from '../define.js'
import type { FunctionGuide } from '../guide.js'
import { ranksOf } from './ranks.js'

export const denseRankGuide: FunctionGuide = {
  doc: 'The place of a value among the different values, from 1 for the smallest; desc begins with the largest.',
  blanks: 'a blank has no rank: blank',
  examples: [
    { formula: 'dense_rank(kg)', over: { kg: [3, 3, 4] }, givesRows: [1, 1, 2] },
    { formula: 'dense_rank(kg desc)', over: { kg: [3, 5, 4] }, givesRows: [3, 1, 2] },
  ],
}

export const denseRank = defineFunction({
  name: 'dense_rank',
  family: 'ordered',
  signature: '(value: number | text | date | datetime) -> number',
  unit: 'plain',
  errors: [],
  form: 'ordered',
  clauses: ['by', 'order by', 'desc'],
  inOrder: ({ args }) => ranksOf(args[0] ?? [], true),
  orderArgument: 0,
})
