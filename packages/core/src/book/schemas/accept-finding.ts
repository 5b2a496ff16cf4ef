import * as v from 'valibot'
import { type GivenBy, operationSchema } from './define-schema.js'
import { Id, Text } from './fields.js'

const place = {
  /** Id of the column, tally, value or rule that the finding is about. */
  id: Id,
  /** The code of the finding. */
  code: Text,
  /** Where in the formula it begins; null where it is about no place of one. */
  from: v.nullable(v.number()),
  /** Where it ends. */
  to: v.nullable(v.number()),
}

export const acceptFindingSchema = operationSchema('accept-finding', {
  ...place,
  /** The reason. */
  because: v.pipe(Text, v.trim(), v.minLength(1, 'a finding is accepted for a reason')),
  /** Who accepts it. */
  author: v.optional(v.nullable(Text)),
  /** When, as ISO 8601 text. */
  at: v.optional(v.nullable(Text)),
  /** What the rows behind it hold; the finding comes back when they hold something else. */
  rows: Text,
})

/**
 * Accepts a finding with a reason; it comes back when the rows behind it change. `book.accepting` makes the operation.
 *
 * @example
 * {
 *   op: 'accept-finding',
 *   id: 3,
 *   code: 'zeros-apart',
 *   from: null,
 *   to: null,
 *   because: 'Nuclei have no boxes yet.',
 *   rows: '1 0f3c2a9b51d0e7c4',
 * }
 */
export type AcceptFinding = GivenBy<typeof acceptFindingSchema>

export const withdrawAcceptanceSchema = operationSchema('withdraw-acceptance', place)

/**
 * Shows an accepted finding again.
 *
 * @example
 * { op: 'withdraw-acceptance', id: 2, code: 'missing-rows', from: null, to: null }
 */
export type WithdrawAcceptance = GivenBy<typeof withdrawAcceptanceSchema>
