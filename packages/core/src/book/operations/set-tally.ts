import { type JournaledSetTally, type RemoveTally, removeTallySchema, setTallySchema } from '../schemas/index.js'
import { defineOperation } from './define.js'
import { defineSingle, removeSingle } from './singles.js'

export const setTally = defineOperation<JournaledSetTally>({
  schema: setTallySchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const { column, former } = defineSingle(transaction, table.tallies, operation, operation.formula, null)
    transaction.applied.push({ ...operation, id: column.id })
    const place = { table: table.name, name: column.name }
    if (former === null || former.formula === null) transaction.undoWith({ op: 'remove-tally', ...place })
    else transaction.undoWith({ op: 'set-tally', ...place, formula: former.formula })
  },
})

export const removeTally = defineOperation<RemoveTally>({
  schema: removeTallySchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    removeSingle(transaction, table.tallies, operation.name)
    transaction.applied.push(operation)
  },
})
