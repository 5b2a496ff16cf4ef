import * as v from 'valibot'
import { refusal } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import { acceptanceKey } from '../acceptance.js'
import { defineOperation } from './define.js'
import { Id, Text } from './shapes.js'

const place = {
  /** Id of the column, tally, value or rule that the finding is about. */
  id: Id,
  code: Text,
  from: v.nullable(v.number()),
  to: v.nullable(v.number()),
}

const shape = v.strictObject({
  op: v.literal('accept-finding'),
  ...place,
  because: v.pipe(Text, v.trim(), v.minLength(1, 'a finding is accepted for a reason')),
  author: v.optional(v.nullable(Text)),
  at: v.optional(v.nullable(Text)),
  /** What the rows behind it hold, as `book.accepting` tells; the finding comes back when they hold something else. */
  rows: Text,
})

/** Accepts a finding with a reason; it comes back when the rows behind it change. */
export type AcceptFinding = v.InferOutput<typeof shape>

export const acceptFinding = defineOperation<AcceptFinding>({
  op: 'accept-finding',
  shape,
  apply: (transaction, operation) => {
    const { model } = transaction
    if (!model.hasColumn(operation.id))
      throw refusal('bad-operation', { place: 'accept-finding, field id', reason: `no column has id ${operation.id}.` })
    const { op: _, author = null, at = null, ...rest } = operation
    const key = acceptanceKey(rest)
    const former = model.acceptances.get(key)
    model.acceptances.set(key, { ...rest, author, at })
    const { id, code, from, to } = rest
    if (former === undefined) transaction.undoWith({ op: 'withdraw-acceptance', id, code, from, to })
    else transaction.undoWith({ op: 'accept-finding', ...former })
    transaction.findingsDue.add(model.columnOf(id as ColumnId).column)
    transaction.applied.push(operation)
  },
})

const withdrawShape = v.strictObject({ op: v.literal('withdraw-acceptance'), ...place })

/** Has an accepted finding be shown again. */
export type WithdrawAcceptance = v.InferOutput<typeof withdrawShape>

export const withdrawAcceptance = defineOperation<WithdrawAcceptance>({
  op: 'withdraw-acceptance',
  shape: withdrawShape,
  apply: (transaction, operation) => {
    const { model } = transaction
    const former = model.acceptances.get(acceptanceKey(operation))
    if (former === undefined)
      throw refusal('bad-operation', { place: 'withdraw-acceptance', reason: 'nobody has accepted this finding.' })
    model.acceptances.delete(acceptanceKey(operation))
    transaction.undoWith({ op: 'accept-finding', ...former })
    if (model.hasColumn(operation.id)) transaction.findingsDue.add(model.columnOf(operation.id as ColumnId).column)
    transaction.applied.push(operation)
  },
})
