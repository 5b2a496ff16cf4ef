import type { Cell } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import { addColumnSchema, type JournaledAddColumn } from '../schemas/index.js'
import { makeColumn, refuseTaken } from './column-spec.js'
import { defineOperation } from './define.js'
import { readCells } from './row-cells.js'

export const addColumn = defineOperation<JournaledAddColumn>({
  schema: addColumnSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const { values } = operation
    const { rows } = table.store
    refuseTaken(table, operation.column.name)
    const before = operation.before === undefined ? undefined : table.column(operation.before)
    if (values !== undefined && (operation.column.formula !== undefined || values.length !== rows.rowCount)) {
      const reason =
        operation.column.formula !== undefined
          ? 'a calculated column gets its values from its formula.'
          : `expected ${rows.rowCount} values, received ${values.length}.`
      throw refusal('bad-operation', { place: 'add-column, field values', reason })
    }
    const column = makeColumn(transaction, table, operation.column, before)
    transaction.undoWith({ op: 'remove-column', table: table.name, column: column.name })
    if (values !== undefined) {
      const cells = readCells(transaction, table, column, values)
      const storage = table.store.column(column.id)
      for (const [index, slot] of rows.inOrder().entries()) storage?.write(slot, cells[index] as Cell)
    }
    transaction.applied.push({ ...operation, column: { ...operation.column, id: column.id } })
  },
})
