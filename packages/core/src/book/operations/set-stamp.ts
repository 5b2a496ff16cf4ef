import type { CellValue } from '../../columns/index.js'
import { writeCellValue } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import { printName } from '../../values/index.js'
import type { TableModel } from '../model/index.js'
import { type ColumnModel, formulaOf, readCellValue, type Stamp } from '../model/index.js'
import { type JournaledSetStamp, listIds, packIds, type StampCells, setStampSchema, stampCellsSchema } from '../schemas/index.js'
import { storageOf, type Transaction } from '../transaction/index.js'
import { defineOperation } from './define.js'
import { giveType } from './row-cells.js'

export const setStamp = defineOperation<JournaledSetStamp>({
  schema: setStampSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const column = table.column(operation.column)
    const { stamp: former, ...others } = column.properties
    const stamp = operation.stamp === null ? undefined : stampOf(table, column, operation.stamp)
    if (formulaOf(column) !== null && stamp !== undefined)
      throw badStamp(table, column, `${printName(column.name)} has a formula; a stamp is a column of its own.`)
    const type = stamp?.content === 'author' ? 'text' : 'datetime'
    if (stamp !== undefined && column.type !== null && column.type !== type)
      throw badStamp(table, column, `${printName(column.name)} is of type ${column.type}, and this stamp is a ${type}.`)
    if (stamp !== undefined && column.type === null) giveType(transaction, table, column, type, true)
    column.properties = { ...others, ...(stamp !== undefined && { stamp }) }
    transaction.undoWith({ op: 'set-stamp', table: table.name, column: column.name, stamp: stampNames(table, former) })
    transaction.applied.push(operation)
  },
})

function stampOf(table: TableModel, column: ColumnModel, { when, on, content }: NonNullable<JournaledSetStamp['stamp']>): Stamp {
  const watched = when.map((name) => table.column(name))
  const bad = watched.find((one) => one === column || one.formula !== null)
  if (bad !== undefined)
    throw badStamp(
      table,
      column,
      bad === column ? 'a stamp cannot watch itself.' : `${printName(bad.name)} is calculated; a stamp watches what is typed.`,
    )
  return { when: watched.map(({ id }) => id), on, content }
}

function stampNames(table: TableModel, stamp: Stamp | undefined): JournaledSetStamp['stamp'] {
  if (stamp === undefined) return null
  const when = stamp.when.flatMap((id) => table.columns.find((one) => one.id === id)?.name ?? [])
  return { ...stamp, when }
}

function badStamp(table: TableModel, column: ColumnModel, reason: string): Error {
  return refusal('bad-operation', { place: 'set-stamp', reason }, { table: table.name, column: column.name })
}

/** The stamps of a table that watch a column. */
export function stampsOn(table: TableModel, column: ColumnModel): ColumnModel[] {
  return table.columns.filter(({ properties: { stamp } }) => stamp?.when.includes(column.id))
}

export const stampCells = defineOperation<StampCells>({
  schema: stampCellsSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const column = table.column(operation.column)
    if (column.properties.stamp === undefined && !transaction.isUndoRedo)
      throw refusal('bad-operation', { place: 'stamp-cells', reason: `${printName(column.name)} is no stamp.` })
    transaction.stamped.add(column.id)
    writeStamps(transaction, table, column, operation)
    transaction.applied.push(operation)
  },
})

function writeStamps(transaction: Transaction, table: TableModel, column: ColumnModel, { rows, value }: StampCells): void {
  const { store } = table
  const storage = storageOf(store, column)
  const cell = readCellValue(
    value,
    column.type ?? 'datetime',
    () => `${table.name}.${column.name}`,
    transaction.engine.surroundings.zone,
  )
  const former = new Map<string, { value: CellValue; rows: number[] }>()
  for (const row of listIds(rows)) {
    const slot = store.rows.slotOf(row)
    // A replay on other rows may not have this one.
    if (slot === undefined) continue
    const was = writeCellValue(storage.read(slot), storage.type)
    const group = former.get(JSON.stringify(was)) ?? { value: was, rows: [] }
    group.rows.push(row)
    former.set(JSON.stringify(was), group)
    storage.write(slot, cell)
    transaction.dirtyIn(table).touchCell(column.id, slot)
  }
  for (const group of former.values())
    transaction.undoWith({
      op: 'stamp-cells',
      table: table.name,
      column: column.name,
      rows: packIds(group.rows),
      value: group.value,
    })
}
