import { refusal } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import { addTableSchema, type JournaledAddTable } from '../schemas/index.js'
import { makeColumn, refuseRepeated } from './column-spec.js'
import { defineOperation } from './define.js'

export const addTable = defineOperation<JournaledAddTable>({
  schema: addTableSchema,
  apply: (transaction, operation) => {
    const { model, engine } = transaction
    if (model.find(operation.table) !== undefined) {
      throw refusal(
        'name-taken',
        { place: 'The workbook', kind: 'table', name: printName(operation.table) },
        { table: operation.table },
      )
    }
    refuseRepeated(operation.table, operation.columns)
    const table = model.addTable(operation.table.normalize('NFC'))
    engine.addTable(table.name, table.store)
    // Before the columns: one of them may be refused yet.
    transaction.undoWith({ op: 'remove-table', table: table.name })
    const columns = operation.columns.map((spec) => ({ ...spec, id: makeColumn(transaction, table, spec).id }))
    transaction.applied.push({ ...operation, columns })
  },
})
