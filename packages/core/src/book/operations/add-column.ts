import * as v from 'valibot'
import type { Cell } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import { ColumnSpec, makeColumn, refuseTaken } from './column-spec.js'
import { defineOperation } from './define.js'
import { readCells } from './row-cells.js'
import { Name } from './shapes.js'

const shape = v.strictObject({
  op: v.literal('add-column'),
  table: Name,
  column: ColumnSpec,
  /** The column it stands before; at the end when not given. */
  before: v.optional(Name),
  /** Values of a source column, in row order. */
  values: v.optional(v.array(v.unknown())),
})

/** A new column, calculated when it has a formula. */
export type AddColumn = v.InferOutput<typeof shape>

export const addColumn = defineOperation<AddColumn>({
  op: 'add-column',
  shape,
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
