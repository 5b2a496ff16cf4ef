import { BLOCK_SHIFT, type Selection, selectRows } from '../columns/index.js'
import { uniteSelections } from './dirty-rows.js'
import type { RowsByBlock } from './round.js'
import type { TableStore } from './table-store.js'

/** Rows of a column that are yet to be computed: what was postponed, or is more than one edit computes at once. */
export class Backlog {
  readonly #rows: Map<number, Selection> = new Map()

  /** True when no row waits. */
  get isEmpty(): boolean {
    return this.#rows.size === 0
  }

  /** Puts rows in. */
  add(rows: RowsByBlock): void {
    for (const [block, selection] of rows) {
      const known = this.#rows.get(block)
      if (selection.count > 0) this.#rows.set(block, known === undefined ? selection : uniteSelections([known, selection]))
    }
  }

  /** Takes the rows of one block out, or all; rows that are gone by now are none of them. */
  take(store: TableStore, block?: number): Map<number, Selection> {
    const taken = this.rowsIn(store, block)
    if (block === undefined) this.#rows.clear()
    else this.#rows.delete(block)
    return taken
  }

  /** Takes some rows of the first block out, at most so many. */
  takeSome(store: TableStore, most: number): Map<number, Selection> {
    const block = this.firstBlock()
    if (block === undefined) return new Map()
    const live = this.take(store, block).get(block)
    if (live === undefined || live.count <= most) return live === undefined ? new Map() : new Map([[block, live]])
    const rows = live.rows ?? Uint16Array.from({ length: live.count }, (_, row) => row)
    this.#rows.set(block, selectRows(rows.slice(most, live.count)))
    return new Map([[block, selectRows(rows.slice(0, most))]])
  }

  /** The rows that wait, of one block or all. */
  rowsIn(store: TableStore, block?: number): Map<number, Selection> {
    const rows = new Map<number, Selection>()
    for (const [index, selection] of this.#rows) {
      if (block !== undefined && index !== block) continue
      const live = liveOf(store, index, selection)
      if (live.count > 0) rows.set(index, live)
    }
    return rows
  }

  /** How many blocks have rows that wait. */
  get blockCount(): number {
    return this.#rows.size
  }

  /** A block with rows that wait; undefined when none has any. */
  firstBlock(): number | undefined {
    return this.#rows.keys().next().value
  }
}

/** Those of some rows that are there. */
export function liveIn(store: TableStore, rows: RowsByBlock): RowsByBlock {
  if (store.rows.isDense) return rows
  const live = new Map<number, Selection>()
  for (const [block, selection] of rows) {
    const kept = liveOf(store, block, selection)
    if (kept.count > 0) live.set(block, kept)
  }
  return live
}

function liveOf(store: TableStore, block: number, selection: Selection): Selection {
  const { rows, count } = selection
  if (store.rows.isDenseIn(block) && (rows === null || count > 0)) {
    const { slotCount } = store.rows
    const last = (block << BLOCK_SHIFT) + (rows === null ? count : (rows[count - 1] as number) + 1)
    if (last <= slotCount) return selection
  }
  const kept = new Uint16Array(count)
  let found = 0
  for (let k = 0; k < count; k++) {
    const row = rows === null ? k : (rows[k] as number)
    if (store.rows.isLive((block << BLOCK_SHIFT) + row)) kept[found++] = row
  }
  return selectRows(kept.subarray(0, found))
}

/** How many rows are selected. */
export function rowCountOf(rows: RowsByBlock): number {
  let count = 0
  for (const selection of rows.values()) count += selection.count
  return count
}

/** All rows of a table that are there. */
export function everyRowOf(store: TableStore): Map<number, Selection> {
  const rows = new Map<number, Selection>()
  for (let block = 0; block < store.blockCount; block++) {
    const live = store.liveRows(block)
    if (live.count > 0) rows.set(block, live)
  }
  return rows
}
