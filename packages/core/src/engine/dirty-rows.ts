import { BLOCK_MASK, BLOCK_ROWS, BLOCK_SHIFT, type Selection, selectRows } from '../columns/index.js'
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
    for (const [column, slots] of before.cells) for (const slot of slots) if (isLive(slot)) this.touchCell(column, slot)
    this.everyRow ||= before.everyRow
    this.reordered ||= before.reordered
  }

  /** Notes rows as gone. */
  removeRows(slots: Iterable<number>): void {
    for (const slot of slots) {
      this.removed.add(slot)
      this.inserted.delete(slot)
      for (const cells of this.cells.values()) cells.delete(slot)
    }
  }
}

/** Sorts slots into blocks: for each block touched, its rows in ascending order. */
export function rowsByBlock(slots: Iterable<number>): Map<number, Selection> {
  const lists = new Map<number, number[]>()
  for (const slot of slots) {
    const list = lists.get(slot >> BLOCK_SHIFT)
    if (list === undefined) lists.set(slot >> BLOCK_SHIFT, [slot & BLOCK_MASK])
    else list.push(slot & BLOCK_MASK)
  }
  return new Map([...lists].map(([block, rows]) => [block, selectRows(Uint16Array.from(rows).sort())]))
}

/** The rows that are in any of some selections of one block. */
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
  const united = new Uint16Array(BLOCK_ROWS)
  let count = 0
  for (let row = 0; row < BLOCK_ROWS; row++) if (flags[row] === 1) united[count++] = row
  return selectRows(united.slice(0, count))
}

/** Few rows are merged as they are: looking at every row of the block would cost more than all the rest of a small edit. */
function uniteFew(selections: readonly Selection[]): Selection {
  let united = listOf(selections[0] as Selection)
  for (const one of selections.slice(1)) united = merge(united, listOf(one))
  return selectRows(united)
}

const listOf = ({ rows, count }: Selection): Uint16Array => (rows ?? new Uint16Array(0)).subarray(0, count)

/** Two ascending lists as one, each row once. */
function merge(left: Uint16Array, right: Uint16Array): Uint16Array {
  const merged = new Uint16Array(left.length + right.length)
  let [a, b, count] = [0, 0, 0]
  while (a < left.length || b < right.length) {
    const [x, y] = [left[a] ?? BLOCK_ROWS, right[b] ?? BLOCK_ROWS]
    if (x <= y) a++
    if (y <= x) b++
    merged[count++] = Math.min(x, y)
  }
  return count === left.length ? left : merged.subarray(0, count)
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
