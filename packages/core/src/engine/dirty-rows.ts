import { BLOCK_MASK, BLOCK_ROWS, BLOCK_SHIFT, type RowSet, rowsMarked, type Selection, selectRows } from '../columns/index.js'
import type { ColumnId } from '../formula/index.js'

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
  /** Rows that stand behind where rows were taken away; `TABLE_END` where none does. */
  readonly behindGaps: Set<number> = new Set()

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
    for (const slot of before.behindGaps) this.behindGaps.add(slot)
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
    else for (const slot of slots) this.#noteGap(rows.slotAt(rows.placeOf(slot) + 1))
  }

  /** The row behind a gap may be taken away itself, and then says who stands behind it. */
  #noteGap(behind: number | undefined): void {
    if (behind === undefined || !this.removed.has(behind)) this.behindGaps.add(behind ?? TABLE_END)
  }
}

/** In place of a row: the end of the table. */
export const TABLE_END = -1
/** More rows taken away at once than this, and everything that goes by row order is computed. */
const MOST_GAPS = 1000

/** Sorts slots into blocks: for each block touched, its rows in ascending order. */
export function rowsByBlock(slots: Iterable<number>): Map<number, Selection> {
  if (slots instanceof Set && slots.size === 1) {
    const [slot] = slots as Set<number>
    return new Map([[(slot as number) >> BLOCK_SHIFT, selectRows(Uint16Array.of((slot as number) & BLOCK_MASK))]])
  }
  const lists = new Map<number, number[]>()
  for (const slot of slots) {
    const list = lists.get(slot >> BLOCK_SHIFT)
    if (list === undefined) lists.set(slot >> BLOCK_SHIFT, [slot & BLOCK_MASK])
    else list.push(slot & BLOCK_MASK)
  }
  return new Map([...lists].map(([block, rows]) => [block, selectRows(Uint16Array.from(rows).sort())]))
}

/** The rows that are in any of some lists of rows; a list that has all of them is given back as it is. */
export function uniteRows(parts: readonly ReadonlyMap<number, Selection>[]): ReadonlyMap<number, Selection> {
  let united: ReadonlyMap<number, Selection> = NO_ROWS
  let own: Map<number, Selection> | null = null
  for (const part of parts) {
    if (part.size === 0 || part === united) continue
    if (united.size === 0) {
      united = part
      continue
    }
    for (const [block, selection] of part) {
      const known = united.get(block)
      const both = known === undefined ? selection : uniteSelections([known, selection])
      if (both === known) continue
      if (own === null) own = new Map(united)
      united = own.set(block, both)
    }
  }
  return united
}

/** The rows that are in any of some selections of one block; a selection that has all of them is given back as it is. */
export function uniteSelections(selections: readonly Selection[]): Selection {
  const filled = selections.filter((one) => one.count > 0)
  if (filled.length <= 1) return filled[0] ?? EMPTY
  const whole = filled.find((one) => one.rows === null)
  if (whole !== undefined && filled.every((one) => endOf(one) <= whole.count)) return whole
  if (whole === undefined && filled.every((one) => one.count <= FEW_ROWS)) return uniteFew(filled)
  const flags = new Uint8Array(BLOCK_ROWS)
  for (const { rows, count } of filled) {
    if (rows === null) flags.fill(1, 0, count)
    else for (let k = 0; k < count; k++) flags[rows[k] as number] = 1
  }
  return rowsMarked(flags)
}

/** Few rows are merged as they are: looking at every row of the block would cost more than all the rest of a small edit. */
function uniteFew(selections: readonly Selection[]): Selection {
  let united = selections[0] as Selection
  for (let index = 1; index < selections.length; index++) united = merge(united, selections[index] as Selection)
  return united
}

/** Two ascending lists as one, each row once. */
function merge(left: Selection, right: Selection): Selection {
  const [first, second] = [left.rows as Uint16Array, right.rows as Uint16Array]
  if (left.count === 1 && right.count === 1 && first[0] === second[0]) return left
  const merged = new Uint16Array(left.count + right.count)
  let [a, b, count] = [0, 0, 0]
  while (a < left.count || b < right.count) {
    const x = a < left.count ? (first[a] as number) : BLOCK_ROWS
    const y = b < right.count ? (second[b] as number) : BLOCK_ROWS
    if (x <= y) a++
    if (y <= x) b++
    merged[count++] = Math.min(x, y)
  }
  return count === left.count ? left : selectRows(merged.subarray(0, count))
}

/** The row behind the last one selected. */
function endOf({ rows, count }: Selection): number {
  return rows === null ? count : (rows[count - 1] as number) + 1
}

/** More new rows at once than this are not listed one by one. */
const MOST_LISTED = 50_000

/** Selections of more rows than this are united by flags. */
const FEW_ROWS = 64

const EMPTY: Selection = { rows: new Uint16Array(0), count: 0 }

const NO_ROWS: ReadonlyMap<number, Selection> = new Map()
