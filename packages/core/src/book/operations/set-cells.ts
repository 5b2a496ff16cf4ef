import type { Cell, CellValue } from '../../columns/index.js'
import { writeCellValue } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import type { ColumnModel } from '../model/index.js'
import { readCellValue } from '../model/index.js'
import { type JournaledSetCells, setCellsSchema } from '../schemas/index.js'
import { storageOf } from '../transaction/index.js'
import { defineOperation } from './define.js'
import { markTyped, refuseUnwritable, takeType } from './row-cells.js'

export const setCells = defineOperation<JournaledSetCells>({
  schema: setCellsSchema,
  touches: (_, { table, cells }, names) => cells.flatMap(({ column }) => names.find(table)?.find(column)?.id ?? []),
  apply: (transaction, operation) => {
    const table = transaction.names.table(operation.table)
    const { store } = table
    const targets = operation.cells.map(({ row, column: name, value, typed }) => {
      const column = table.column(name)
      refuseUnwritable(transaction, table, column)
      const slot = store.rows.slotOf(row)
      if (slot === undefined) throw refusal('unknown-row', { table: table.name, row }, { table: table.name, column: column.name })
      return { row, slot, column, value, typed }
    })
    const { zone } = transaction.engine.surroundings
    const read = ({ column, value, row }: { column: ColumnModel; value: CellValue; row: number }): Cell =>
      readCellValue(value, column.type ?? 'text', () => `${table.name}.${column.name}, row ${row},`, zone)
    for (const target of targets) read(target)
    const former: JournaledSetCells['cells'][number][] = []
    for (const target of targets) {
      const { row, slot, column, value } = target
      if (takeType(transaction, table, column, value) === null) continue
      const storage = storageOf(store, column)
      const wasTyped = column.paused === null || column.paused.typed.has(row) ? {} : { typed: false }
      former.push({ row, column: column.name, value: writeCellValue(storage.read(slot), storage.type), ...wasTyped })
      markTyped(column, [row], target.typed)
      storage.write(slot, read(target))
      transaction.dirtyIn(table).touchCell(column.id, slot)
    }
    transaction.applied.push(operation)
    transaction.undoWith({ op: 'set-cells', table: table.name, cells: former.reverse() })
  },
})
