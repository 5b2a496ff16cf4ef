import * as v from 'valibot'
import { findColumn } from '../address.js'
import { defineOperation } from './define.js'
import { Text } from './shapes.js'

const shape = v.strictObject({
  op: v.literal('recalculate'),
  /** Addresses: `table.column`, `value:name`, `tally:table.name`; everything when not given. */
  columns: v.optional(v.array(Text)),
})

/** Calculates what is stale: all of it, or some columns with all that they are made from. */
export type Recalculate = v.InferOutput<typeof shape>

export const recalculate = defineOperation<Recalculate>({
  op: 'recalculate',
  shape,
  apply: (transaction, operation) => {
    const { columns } = operation
    const found = columns?.map((address) => findColumn(transaction.model, address).column.id)
    if (found === undefined) transaction.toFlush = 'all'
    else if (transaction.toFlush !== 'all') for (const id of found) transaction.toFlush.add(id)
    transaction.applied.push(operation)
  },
})
