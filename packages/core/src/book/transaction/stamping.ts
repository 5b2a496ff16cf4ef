import type { CellValue } from '../../columns/index.js'
import { writeCellValue } from '../../columns/index.js'
import type { ColumnId } from '../../formula/index.js'
import { printDateTime } from '../../values/index.js'
import type { ColumnModel, Stamp, TableModel } from '../model/index.js'
import type { StampCells } from '../schemas/index.js'
import { packIds } from '../schemas/index.js'
import type { Transaction } from './transaction.js'

/**
 * The stamps that the operations of a call ask for, with the time and the author of the call. A call that brings
 * stamps of its own, as a journal does, keeps those; a step back or forth brings the former ones.
 */
export function stampsDue(
  transaction: Transaction,
  { at, author }: { readonly at?: string; readonly author?: string },
): StampCells[] {
  const due: StampCells[] = []
  if (transaction.isUndoRedo) return due
  const { model, engine } = transaction
  for (const table of model.tables) {
    const stamps = table.columns.filter(({ id, properties }) => properties.stamp !== undefined && !transaction.stamped.has(id))
    if (stamps.length === 0) continue
    const before = cellsBefore(transaction, table)
    if (before.size === 0) continue
    for (const column of stamps) {
      const stamp = column.properties.stamp as Stamp
      const rows = [...before].flatMap(([row, cells]) => (callsFor(table, column, stamp, row, cells) ? [row] : []))
      if (rows.length === 0) continue
      const value: CellValue = stamp.content === 'author' ? (author ?? null) : (at ?? printDateTime(engine.surroundings.now))
      due.push({ op: 'stamp-cells', table: table.name, column: column.name, rows: packIds(rows), value })
    }
  }
  return due
}

/** Cells of a row before the call, by column; null for a row that is new. */
type Before = ReadonlyMap<ColumnId, CellValue> | null

/** What rows held before the call that it has written or added, by id: the first that was noted of a cell is applied last. */
function cellsBefore({ inverse, filled, inserted }: Transaction, table: TableModel): Map<number, Before> {
  const before = new Map<number, Map<ColumnId, CellValue> | null>()
  for (const operation of inverse) {
    if (operation.op !== 'set-cells' || operation.table !== table.name) continue
    for (const { row, column, value } of operation.cells) {
      const id = table.find(column)?.id
      if (id === undefined || table.store.rows.slotOf(row) === undefined) continue
      const cells = before.get(row) ?? new Map<ColumnId, CellValue>()
      before.set(row, cells.set(id, value))
    }
  }
  for (const { row, column, value } of filled.get(table) ?? []) {
    const cells = before.get(row) ?? new Map<ColumnId, CellValue>()
    if (table.store.rows.slotOf(row) !== undefined) before.set(row, cells.set(column, value))
  }
  for (const slot of inserted.get(table)?.all() ?? []) before.set(table.store.rows.idOf(slot), null)
  return before
}

/** Whether what has become of a row is an event for a stamp. */
function callsFor(table: TableModel, column: ColumnModel, { when, on }: Stamp, row: number, before: Before): boolean {
  const { store } = table
  const slot = store.rows.slotOf(row) as number
  if (on === 'first-fill' && store.column(column.id)?.read(slot) !== null) return false
  return when.some((id) => {
    const storage = store.column(id)
    const now = storage === undefined ? null : writeCellValue(storage.read(slot), storage.type)
    const was = before === null ? null : before.get(id)
    if (was === undefined) return false
    return on === 'first-fill' ? was === null && now !== null : JSON.stringify(was) !== JSON.stringify(now)
  })
}
