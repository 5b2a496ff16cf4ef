import * as v from 'valibot'
import { field, type GivenBy, operationSchema } from './define-schema.js'
import { Id, Text } from './fields.js'

const place = {
  id: field(Id, 'Id of the column, tally, value or rule that the finding is about.'),
  code: field(Text, 'The code of the finding.'),
  from: field(v.nullable(v.number()), 'Where in the formula it begins; null where it is about no place of one.'),
  to: field(v.nullable(v.number()), 'Where it ends.'),
}

export const acceptFindingSchema = operationSchema('accept-finding', {
  does: 'Accepts a finding with a reason; it comes back when the rows behind it change. `book.accepting` makes the operation.',
  fields: {
    ...place,
    because: field(v.pipe(Text, v.trim(), v.minLength(1, 'a finding is accepted for a reason')), 'The reason.'),
    author: v.optional(field(v.nullable(Text), 'Who accepts it.')),
    at: v.optional(field(v.nullable(Text), 'When, as ISO 8601 text.')),
    rows: field(Text, 'What the rows behind it hold; the finding comes back when they hold something else.'),
  },
  examples: [
    {
      op: 'accept-finding',
      id: 3,
      code: 'zeros-apart',
      from: null,
      to: null,
      because: 'Nuclei have no boxes yet.',
      rows: '1 0f3c2a9b51d0e7c4',
    },
  ],
})

/** Accepts a finding with a reason. */
export type AcceptFinding = GivenBy<typeof acceptFindingSchema>

export const withdrawAcceptanceSchema = operationSchema('withdraw-acceptance', {
  does: 'Shows an accepted finding again.',
  fields: place,
  examples: [{ op: 'withdraw-acceptance', id: 2, code: 'missing-rows', from: null, to: null }],
})

/** Shows an accepted finding again. */
export type WithdrawAcceptance = GivenBy<typeof withdrawAcceptanceSchema>
