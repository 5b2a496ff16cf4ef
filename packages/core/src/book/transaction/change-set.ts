import type { RowSet, SlotIds } from '../../columns/index.js'
import { type Engine, type RowsByBlock, rowCountOf, slotsOf } from '../../engine/index.js'
import type { Finding } from '../../findings/index.js'
import type { FaultCode } from '../../values/index.js'
import { errorsAmong } from '../diagnostics/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'
import { type ShownValue, showCell } from '../model/index.js'
import type { Operation } from '../schemas/index.js'

/** Cells of one column: how many, and on request which rows. */
export interface ColumnCells {
  readonly table: string
  readonly column: string
  readonly rows: number
  /** Ids of the rows, also when some are gone since. Not enumerable, so that the record compares and prints as its three facts. */
  ids(): IterableIterator<number>
  /** How many of the cells are errors now, by code, of rows that are still there; not enumerable either. */
  errors(): ReadonlyMap<FaultCode, number>
}

/** Rows that are new in one table. */
export interface InsertedRows {
  readonly table: string
  readonly rows: number
  readonly ids: readonly number[]
  /** Calculated values of the new rows, by column and in the order of `ids`: as they are when asked for, null for rows gone by then. */
  calculated(): ReadonlyMap<string, readonly ShownValue[]>
}

/** The unit of a column, before and after a revision. */
export interface ColumnUnit {
  readonly table: string
  readonly column: string
  readonly before: string | null
  readonly after: string | null
}

/** What one revision did. */
export interface ChangeSet {
  readonly revision: number
  readonly author: string | null
  /** Wall-clock time given with the operations, ISO 8601. */
  readonly at: string | null
  /** The operations, with the ids they were given. */
  readonly operations: readonly Operation[]
  /** What takes it back, to be applied in this order. */
  readonly inverse: readonly Operation[]
  /** Calculated cells evaluated. */
  readonly recalculated: readonly ColumnCells[]
  /** Cells whose value differs now, source cells included. */
  readonly changed: readonly ColumnCells[]
  /**
   * Cells that this revision has left out of step with their sources: in a workbook that calculates on demand, or where one
   * edit moves very many cells. Reading one in a live workbook calculates it first.
   */
  readonly stale: readonly ColumnCells[]
  readonly inserted: readonly InsertedRows[]
  /** Ids of rows that are gone, by table. */
  readonly removed: readonly { readonly table: string; readonly ids: readonly number[] }[]
  /** Columns that are in another unit now, by their own declaration or by the formulas that they come from; null for none. */
  readonly units: readonly ColumnUnit[]
  readonly findings: { readonly added: readonly Finding[]; readonly removed: readonly Finding[] }
}

/** Makes the record of some cells of a column, which may have come in several parts. */
export function columnCells(table: TableModel, column: ColumnModel, parts: readonly RowsByBlock[]): ColumnCells {
  const cells = { table: table.name, column: column.name, rows: rowCountIn(parts) }
  const ids = table.store.rows.idsNow()
  const errors = (): ReadonlyMap<FaultCode, number> =>
    errorsAmong(table.store.column(column.id), slotsNow(table.store.rows, idsOf(ids, parts)))
  // One by one, which takes half of the time that both at once take: every edit makes some of these.
  Object.defineProperty(cells, 'ids', { value: () => idsOf(ids, parts) })
  return Object.defineProperty(cells, 'errors', { value: errors }) as unknown as ColumnCells
}

/** How many rows there are in all parts. */
export function rowCountIn(parts: readonly RowsByBlock[]): number {
  let rows = 0
  for (const part of parts) rows += rowCountOf(part)
  return rows
}

/** Ids that rows had, part by part. */
export function* idsOf(ids: SlotIds, parts: readonly RowsByBlock[]): IterableIterator<number> {
  for (const part of parts) for (const slot of slotsOf(part)) yield ids.idOf(slot)
}

/** Where the rows of these ids stand now; those that are gone are left out. */
function* slotsNow(rows: RowSet, ids: Iterable<number>): IterableIterator<number> {
  for (const id of ids) {
    const slot = rows.slotOf(id)
    if (slot !== undefined) yield slot
  }
}

/** Makes the record of new rows. */
export function insertedRows(engine: Engine, table: TableModel, slots: readonly number[]): InsertedRows[] {
  if (slots.length === 0) return []
  const { store } = table
  const ids = store.rows.idsNow()
  const record = Object.defineProperty({ table: table.name, rows: slots.length }, 'ids', {
    enumerable: true,
    get: () => slots.map((slot) => ids.idOf(slot)),
  })
  const calculated = (): Map<string, ShownValue[]> => {
    const values = new Map<string, ShownValue[]>()
    const now = slots.map((slot) => store.rows.slotOf(ids.idOf(slot)))
    const there = now.filter((slot) => slot !== undefined)
    for (const column of table.columns) {
      const storage = engine.recalculation.storage(store, column.id, there)
      if (column.formula === null || storage === undefined) continue
      values.set(
        column.name,
        now.map((slot) => (slot === undefined ? null : showCell(storage.read(slot), storage.type))),
      )
    }
    return values
  }
  return [Object.defineProperty(record, 'calculated', { value: calculated }) as unknown as InsertedRows]
}
