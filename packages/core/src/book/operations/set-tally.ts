import type { ColumnModel, ColumnProperties, RowsTable, TableModel } from '../model/index.js'
import { type JournaledSetTally, type RemoveTally, removeTallySchema, setTallySchema } from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'
import { refuseBadDisplay } from './column-spec.js'
import { defineOperation } from './define.js'
import { defineSingle, removeSingle } from './singles.js'

export const setTally = defineOperation<JournaledSetTally>({
  schema: setTallySchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const known = table.tallies.find(operation.name)
    const before = known === undefined ? null : tallyOperation(table, known)
    const { column } = defineSingle(transaction, table.tallies, operation, operation.formula, null)
    const former = column.properties
    transaction.noteUnit(column, () => {
      column.properties = changed(former, saidOf(operation))
    })
    if (known !== undefined) transaction.recheckReaders(column)
    refuseDisplay(transaction, table.tallies, column)
    transaction.applied.push({ ...operation, id: column.id })
    if (before === null) return transaction.undoWith({ op: 'remove-tally', table: table.name, name: column.name })
    const added = Object.keys(saidOf(operation)).filter((name) => !(name in former))
    transaction.undoWith({ ...before, ...Object.fromEntries(added.map((name) => [name, null])) })
  },
})

/** What an operation says of how a tally is shown. */
function saidOf({ op: _, table: __, name: ___, formula: ____, before: _____, id: ______, ...said }: JournaledSetTally): object {
  return said
}

function changed(former: ColumnProperties, said: object): ColumnProperties {
  return Object.fromEntries(Object.entries({ ...former, ...said }).filter(([, value]) => value !== null))
}

/** What a tally gives is known once it is bound. */
function refuseDisplay(transaction: Transaction, owner: TableModel, tally: ColumnModel): void {
  if (tally.properties.display !== undefined) transaction.afterwards.push(() => refuseBadDisplay(transaction, owner, tally))
}

/** The operation that makes a tally as it is. */
export function tallyOperation(
  table: Pick<RowsTable, 'name'>,
  { name, id, formula, properties }: ColumnModel,
): JournaledSetTally {
  return { op: 'set-tally', table: table.name, name, formula: formula?.text ?? 'blank', id, ...(properties as object) }
}

export const removeTally = defineOperation<RemoveTally>({
  schema: removeTallySchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    removeSingle(transaction, table.tallies, operation.name)
    transaction.applied.push(operation)
  },
})
