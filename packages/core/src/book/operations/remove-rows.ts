import * as v from 'valibot'
import { refusal } from '../../findings/index.js'
import { defineOperation, listIds, packIds, RowIds } from './define.js'
import { sourceBlock } from './row-cells.js'
import { Name } from './shapes.js'

const shape = v.strictObject({ op: v.literal('remove-rows'), table: Name, rows: RowIds })

/** Takes rows away, by id. */
export type RemoveRows = v.InferOutput<typeof shape>

export const removeRows = defineOperation<RemoveRows>({
  op: 'remove-rows',
  shape,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const { rows } = table.store
    const slots = new Set(
      listIds(operation.rows).map((id) => {
        const slot = rows.slotOf(id)
        if (slot === undefined) throw refusal('unknown-row', { table: table.name, row: id }, { table: table.name })
        return slot
      }),
    )
    transaction.applied.push(operation)
    if (slots.size === 0) return
    const placed = [...slots].map((slot) => ({ slot, place: rows.placeOf(slot) })).sort((a, b) => a.place - b.place)
    const inOrder = placed.map(({ slot }) => slot)
    const places = placed.map(({ place }) => place + 1)
    const ids = inOrder.map((slot) => rows.idOf(slot))
    transaction.undoWith({ op: 'insert-rows', table: table.name, block: sourceBlock(table, inOrder), ids: packIds(ids), places })
    transaction.noteRemoved(table, inOrder)
    transaction.engine.removeRows(table.store, inOrder)
  },
})
