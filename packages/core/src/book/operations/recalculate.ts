import { findColumn } from '../model/index.js'
import { type Recalculate, recalculateSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'

export const recalculate = defineOperation<Recalculate>({
  schema: recalculateSchema,
  apply: (transaction, operation) => {
    const { columns } = operation
    const found = columns?.map((address) => findColumn(transaction.model, address).column.id)
    if (found === undefined) transaction.toFlush = 'all'
    else if (transaction.toFlush !== 'all') for (const id of found) transaction.toFlush.add(id)
    transaction.applied.push(operation)
  },
})
