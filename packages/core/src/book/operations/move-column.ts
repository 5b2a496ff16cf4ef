import { type MoveColumn, moveColumnSchema } from '../schemas/index.js'
import { defineOperation } from './define.js'

export const moveColumn = defineOperation<MoveColumn>({
  schema: moveColumnSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const column = table.column(operation.column)
    const before = operation.before === undefined ? undefined : table.column(operation.before)
    const former = table.after(column)
    transaction.applied.push(operation)
    if (before === column) return
    table.move(column, before)
    // Functions over a tag take its columns in their order.
    if (column.properties.tags !== undefined) transaction.recheckTags(table)
    const place = { table: table.name, column: column.name }
    transaction.undoWith({ op: 'move-column', ...place, ...(former !== undefined && { before: former.name }) })
  },
})
