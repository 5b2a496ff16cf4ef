import * as v from 'valibot'
import { refusal } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import { writeCellValue } from '../cell-values.js'
import { specOf } from './column-spec.js'
import { defineOperation, Name } from './define.js'

const shape = v.strictObject({ op: v.literal('remove-column'), table: Name, column: Name })

/** Takes a column away that no formula uses. */
export type RemoveColumn = v.InferOutput<typeof shape>

export const removeColumn = defineOperation<RemoveColumn>({
  op: 'remove-column',
  shape,
  apply: (transaction, operation) => {
    const { model, engine } = transaction
    const table = model.table(operation.table)
    const column = table.column(operation.column)
    const users = table.columns.filter((other) => {
      if (other === column || other.formula === null) return false
      // A formula that is not bound yet is not in the graph; it is checked, and names its missing column, at the end.
      return engine.graph.dependentsOf(column.id).has(other.id) || other.original === column.id
    })
    if (users.length > 0) {
      const names = users.map((user) => printName(user.name)).join(', ')
      throw refusal('column-in-use', { name: printName(column.name), users: names }, { table: table.name, column: column.name })
    }
    const after = table.after(column)
    const storage = table.store.column(column.id)
    const values =
      column.formula === null && storage !== undefined
        ? Array.from(table.store.rows.inOrder(), (slot) => writeCellValue(storage.read(slot), storage.type))
        : undefined
    transaction.undoWith({
      op: 'add-column',
      table: table.name,
      column: specOf(table, column),
      ...(after !== undefined && { before: after.name }),
      ...(values !== undefined && { values }),
    })
    engine.forget(column.id)
    transaction.gone.add(column.id)
    transaction.unbound.delete(column)
    transaction.retyped.delete(column)
    const dirty = transaction.dirtyIn(table)
    dirty.columns.delete(column.id)
    dirty.cells.delete(column.id)
    table.store.dropColumn(column.id)
    table.remove(column)
    if (column.properties.tags !== undefined) transaction.rebindTags(table)
    transaction.applied.push(operation)
  },
})
