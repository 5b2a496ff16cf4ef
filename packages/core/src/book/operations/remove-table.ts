import { refusal } from '../../findings/index.js'
import type { CheckedFormula } from '../../formula/index.js'
import { foldName, printName } from '../../values/index.js'
import type { RowsTable } from '../model/index.js'
import { columnsRead, viewsReading, viewWords } from '../model/index.js'
import type { JournaledOperation } from '../schemas/index.js'
import { type RemoveTable, removeTableSchema } from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'
import { tableSpec } from './change-table.js'
import { specOf } from './column-spec.js'
import { defineOperation } from './define.js'
import { sourceBlock } from './row-cells.js'
import { ruleOperation } from './set-rule.js'
import { tallyOperation } from './set-tally.js'

export const removeTable = defineOperation<RemoveTable>({
  schema: removeTableSchema,
  apply: (transaction, operation) => {
    const { model, engine } = transaction
    const table = model.table(operation.table)
    const users = transaction.isUndoRedo ? [] : usersOf(transaction, table)
    if (users.length > 0)
      throw refusal('table-in-use', { name: printName(table.name), users: users.join(', ') }, { table: table.name })
    const slots = table.store.rows.inOrder()
    for (const operation of restoring(table, slots).toReversed()) transaction.undoWith(operation)
    transaction.noteRemoved(table, [...slots])
    for (const owner of table.parts) {
      for (const column of owner.columns) {
        engine.forget(column.id)
        owner.store.dropColumn(column.id)
        transaction.gone.add(column.id)
        transaction.unbound.delete(column)
      }
    }
    for (const link of table.links) engine.removeLink(link.id)
    transaction.dirty.delete(table)
    transaction.inserted.delete(table)
    model.remove(table)
    engine.removeTable(table.name)
    transaction.applied.push(operation)
  },
})

/** What elsewhere goes by the table: links to it, and formulas that read it. */
function usersOf({ model }: Transaction, table: RowsTable): string[] {
  const links = [...model.links()].filter(({ table: home, link }) => home !== table && link.to === table)
  const own = new Set(table.parts.flatMap(({ columns }) => columns.map((column) => column.id)))
  const reads = (checked: CheckedFormula): boolean => {
    const names = checked.tables.some((one) => foldName(one.table) === foldName(table.name))
    return names || [...columnsRead(checked, model)].some((id) => own.has(id))
  }
  const readers = [...model.columns()].filter(({ column }) => {
    const { checked } = column.formula ?? { checked: null }
    return checked !== null && !own.has(column.id) && reads(checked)
  })
  const reading = new Set(viewsReading(model, reads))
  const views = [...model.views()].filter((view) => view.table === table || reading.has(view))
  return [
    ...links.map(({ table: home, link }) => `link ${printName(home.name)}.${printName(link.name)}`),
    ...readers.map(({ table: home, column }) => `${printName(home.name)}.${printName(column.name)}`),
    ...views.map(viewWords),
  ]
}

/** The operations that bring a table back as it is. */
function restoring(table: RowsTable, slots: Int32Array): JournaledOperation[] {
  const ids = Array.from(slots, (slot) => table.store.rows.idOf(slot))
  const names = (columns: readonly { readonly name: string }[]): string[] => columns.map((column) => column.name)
  return [
    { op: 'add-table', table: table.name, columns: table.columns.map((column) => specOf(table, column)) },
    { op: 'change-table', table: table.name, set: tableSpec(table) },
    ...(ids.length === 0 ? [] : [{ op: 'insert-rows' as const, table: table.name, block: sourceBlock(table, [...slots]), ids }]),
    ...table.links.map((link) => ({
      op: 'add-link' as const,
      table: table.name,
      columns: names(link.columns),
      to: link.to.name,
      keys: names(link.keys),
      name: link.name,
      id: link.id,
    })),
    ...table.tallies.columns.map((tally) => tallyOperation(table, tally)),
    ...table.rules.columns.map((rule) => ruleOperation(table, rule)),
  ]
}
