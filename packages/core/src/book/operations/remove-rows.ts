import { refusal } from '../../findings/index.js'
import { listIds, packIds, type RemoveRows, removeRowsSchema } from '../schemas/index.js'
import { defineOperation, touchedRows } from './define.js'
import { sourceBlock } from './row-cells.js'

export const removeRows = defineOperation<RemoveRows>({
  schema: removeRowsSchema,
  touches: touchedRows,
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
