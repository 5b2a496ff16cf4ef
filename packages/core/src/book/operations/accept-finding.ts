import { refusal } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import { acceptanceKey } from '../model/index.js'
import { type AcceptFinding, acceptFindingSchema, type WithdrawAcceptance, withdrawAcceptanceSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'

export const acceptFinding = defineOperation<AcceptFinding>({
  schema: acceptFindingSchema,
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

export const withdrawAcceptance = defineOperation<WithdrawAcceptance>({
  schema: withdrawAcceptanceSchema,
  apply: (transaction, operation) => {
    const { model } = transaction
    const former = model.acceptances.get(acceptanceKey(operation))
    if (former === undefined)
      throw refusal('bad-operation', { place: 'withdraw-acceptance', reason: 'no one has accepted this finding.' })
    model.acceptances.delete(acceptanceKey(operation))
    transaction.undoWith({ op: 'accept-finding', ...former })
    if (model.hasColumn(operation.id)) transaction.findingsDue.add(model.columnOf(operation.id as ColumnId).column)
    transaction.applied.push(operation)
  },
})
