import { refusal } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import type { TableModel } from '../model/index.js'
import { type ColumnModel, formulaOf } from '../model/index.js'
import { type DetachColumn, detachColumnSchema } from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'
import { pausedSpec } from './column-spec.js'
import { defineOperation } from './define.js'
import { setStamp } from './set-stamp.js'

export const detachColumn = defineOperation<DetachColumn>({
  schema: detachColumnSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const column = table.column(operation.column)
    if (column.properties.stamp !== undefined)
      return setStamp.apply(transaction, { op: 'set-stamp', table: table.name, column: column.name, stamp: null })
    if (formulaOf(column) === null) {
      const reason = `${printName(column.name)} has no formula, so there is nothing to detach.`
      throw refusal('bad-operation', { place: 'detach-column', reason }, { table: table.name, column: column.name })
    }
    detach(transaction, table, column)
    transaction.applied.push(operation)
  },
})

/** Makes a calculated column a source column with the values it has. */
export function detach(transaction: Transaction, table: TableModel, column: ColumnModel): void {
  const { formula, declared, paused } = column
  if (paused !== null) {
    transaction.undoWith({ op: 'pause-column', table: table.name, column: column.name, aside: pausedSpec(paused) })
    column.detach()
    return
  }
  if (formula === null) return
  transaction.bringUp(column)
  transaction.undoWith({
    op: 'change-column',
    table: table.name,
    column: column.name,
    set: { formula: formula.text, ...(!declared && { type: null }) },
    reattach: true,
  })
  column.detach()
  table.store.column(column.id)?.recountNumberTexts()
  transaction.engine.forget(column.id)
  transaction.unbound.delete(column)
  // Formulas that read it are checked again: its type is as it was, but no longer follows from a formula.
  transaction.retyped.add(column)
  transaction.findingsDue.add(column)
}
