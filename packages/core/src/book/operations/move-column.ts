import * as v from 'valibot'
import { defineOperation } from './define.js'
import { Name } from './shapes.js'

const shape = v.strictObject({
  op: v.literal('move-column'),
  table: Name,
  column: Name,
  /** The column it stands before; at the end when not given. */
  before: v.optional(Name),
})

/** Puts a column elsewhere among the columns of its table. */
export type MoveColumn = v.InferOutput<typeof shape>

export const moveColumn = defineOperation<MoveColumn>({
  op: 'move-column',
  shape,
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
