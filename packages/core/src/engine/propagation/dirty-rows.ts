import type { RowSet } from '../../columns/index.js'
import type { ColumnId } from '../../formula/index.js'

/** What an operation set has touched in one table, before anything is recalculated. */
export class DirtyRows {
  /** Rows that are new, whose every calculated cell is computed. */
  readonly inserted: Set<number> = new Set()
  /** Source cells written, by column. */
  readonly cells: Map<ColumnId, Set<number>> = new Map()
  /** True when so many rows are new that every calculated column is computed in full instead. */
  everyRow = false
  /** True when rows stand in another order. */
  reordered = false
  /** Rows that are gone. */
  readonly removed: Set<number> = new Set()
  /** Rows that come next after rows taken away; `TABLE_END` where none does. */
  readonly successorsOfRemoved: Set<number> = new Set()

  /** Notes rows as new. */
  touchRows(slots: readonly number[]): void {
    if (slots.length > MOST_LISTED) this.everyRow = true
    else for (const slot of slots) this.inserted.add(slot)
  }

  /** Notes a source cell as written. */
  touchCell(column: ColumnId, slot: number): void {
    const slots = this.cells.get(column)
    if (slots === undefined) this.cells.set(column, new Set([slot]))
    else slots.add(slot)
  }

  /** Takes in what was touched before, on the way to where this leads back from. */
  takeIn(before: DirtyRows, isLive: (slot: number) => boolean): void {
    for (const slot of before.inserted) if (isLive(slot)) this.inserted.add(slot)
    for (const slot of before.removed) this.removed.add(slot)
    for (const slot of before.successorsOfRemoved) this.successorsOfRemoved.add(slot)
    for (const [column, slots] of before.cells) for (const slot of slots) if (isLive(slot)) this.touchCell(column, slot)
    this.everyRow ||= before.everyRow
    this.reordered ||= before.reordered
  }

  /** Notes rows as gone, while they still stand in the order. */
  removeRows(slots: readonly number[], rows: RowSet): void {
    for (const slot of slots) {
      this.removed.add(slot)
      this.inserted.delete(slot)
      for (const cells of this.cells.values()) cells.delete(slot)
    }
    if (slots.length > MOST_GAPS) this.reordered = true
    else for (const slot of slots) this.#noteSuccessor(rows.slotAt(rows.placeOf(slot) + 1))
  }

  /** The next row may be taken away itself, and then says which comes after it. */
  #noteSuccessor(next: number | undefined): void {
    if (next === undefined || !this.removed.has(next)) this.successorsOfRemoved.add(next ?? TABLE_END)
  }
}

/** In place of a row: the end of the table. */
export const TABLE_END = -1
/** More rows taken away at once than this, and everything that goes by row order is computed. */
const MOST_GAPS = 1000

/** More new rows at once than this are not listed one by one. */
const MOST_LISTED = 50_000
