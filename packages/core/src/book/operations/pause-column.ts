import type { Cell } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'
import { type JournaledPauseColumn, pauseColumnSchema } from '../schemas/index.js'
import { storageOf, type Transaction } from '../transaction/index.js'
import { defineOperation } from './define.js'
import { readCells } from './row-cells.js'

export const pauseColumn = defineOperation<JournaledPauseColumn>({
  schema: pauseColumnSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const column = table.column(operation.column)
    const { aside, values } = operation
    if (column.formula === null && (aside === undefined || column.paused !== null)) {
      const state = column.paused === null ? 'has no formula, so there is nothing to pause' : 'is paused already'
      const reason = `${printName(column.name)} ${state}.`
      throw refusal('bad-operation', { place: 'pause-column', reason }, { table: table.name, column: column.name })
    }
    if (column.formula === null) {
      const formula = { text: aside?.formula ?? '', checked: null }
      column.setPaused({ formula, declared: aside?.declared === true, typed: new Set(aside?.typed) })
      transaction.setAside.add(column)
      transaction.undoWith({ op: 'detach-column', table: table.name, column: column.name })
    } else pause(transaction, table, column, aside?.typed)
    if (values !== undefined) restore(transaction, table, column, values)
    transaction.applied.push(operation)
  },
})

function pause(transaction: Transaction, table: TableModel, column: ColumnModel, typed: readonly number[] = []): void {
  transaction.bringUp(column)
  column.pause(typed)
  table.store.column(column.id)?.recountNumberTexts()
  transaction.engine.forget(column.id)
  transaction.unbound.delete(column)
  // Its names are not known yet where the same call brought its formula.
  if (column.paused?.formula.checked === null) transaction.setAside.add(column)
  // Formulas that read it are checked again: its type is as it was, but no longer follows from a formula.
  transaction.retyped.add(column)
  transaction.findingsDue.add(column)
  transaction.undoWith({ op: 'resume-column', table: table.name, column: column.name })
}

/** Brings the cells back that were there before the column was resumed. */
function restore(transaction: Transaction, table: TableModel, column: ColumnModel, values: readonly unknown[]): void {
  const cells = readCells(transaction, table, column, values)
  const storage = storageOf(table.store, column)
  const dirty = transaction.dirtyIn(table)
  for (const [index, slot] of table.store.rows.inOrder().entries()) {
    storage.write(slot, cells[index] as Cell)
    dirty.touchCell(column.id, slot)
  }
}
