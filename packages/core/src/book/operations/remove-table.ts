import * as v from 'valibot'
import { specOf } from './column-spec.js'
import { defineOperation, Name } from './define.js'
import { sourceBlock } from './row-cells.js'

const shape = v.strictObject({ op: v.literal('remove-table'), table: Name })

/** Takes a table away with all it holds. */
export type RemoveTable = v.InferOutput<typeof shape>

export const removeTable = defineOperation<RemoveTable>({
  op: 'remove-table',
  shape,
  apply: (transaction, operation) => {
    const { model, engine } = transaction
    const table = model.table(operation.table)
    const slots = table.store.rows.inOrder()
    const ids = Array.from(slots, (slot) => table.store.rows.idOf(slot))
    const rows =
      ids.length === 0 ? [] : [{ op: 'insert-rows' as const, table: table.name, block: sourceBlock(table, [...slots]), ids }]
    transaction.noteRemoved(table, [...slots])
    transaction.undoWith(
      { op: 'add-table', table: table.name, columns: table.columns.map((column) => specOf(table, column)) },
      ...rows,
    )
    for (const column of table.columns) {
      engine.forget(column.id)
      transaction.gone.add(column.id)
      transaction.unbound.delete(column)
    }
    transaction.dirty.delete(table)
    transaction.inserted.delete(table)
    model.remove(table)
    transaction.applied.push(operation)
  },
})
