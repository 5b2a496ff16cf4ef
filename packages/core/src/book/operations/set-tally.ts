import * as v from 'valibot'
import type { TableModel } from '../model.js'
import { defineOperation } from './define.js'
import { Id, Name, Text } from './shapes.js'
import { defineSingle, removeSingle } from './singles.js'

const shape = v.strictObject({
  op: v.literal('set-tally'),
  table: Name,
  name: Name,
  formula: Text,
  /** The one it stands before; at the end when not given. */
  before: v.optional(Name),
  /** Its id, as journals carry it; given anew when left out. */
  id: v.optional(Id),
})

/** A tally: a named formula of aggregates over a table, kept once and not once a row. */
export type SetTally = v.InferOutput<typeof shape>

export const setTally = defineOperation<SetTally>({
  op: 'set-tally',
  shape,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const { column, former } = defineSingle(transaction, table.tallies as TableModel, operation, operation.formula, null)
    transaction.applied.push({ ...operation, id: column.id })
    const place = { table: table.name, name: column.name }
    if (former === null || former.formula === null) transaction.undoWith({ op: 'remove-tally', ...place })
    else transaction.undoWith({ op: 'set-tally', ...place, formula: former.formula })
  },
})

const removeShape = v.strictObject({ op: v.literal('remove-tally'), table: Name, name: Name })

/** Takes a tally away that no formula reads. */
export type RemoveTally = v.InferOutput<typeof removeShape>

export const removeTally = defineOperation<RemoveTally>({
  op: 'remove-tally',
  shape: removeShape,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    removeSingle(transaction, table.tallies as TableModel, operation.name)
    transaction.applied.push(operation)
  },
})
