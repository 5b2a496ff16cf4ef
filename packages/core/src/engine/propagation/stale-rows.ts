import { type Selection, selectRows } from '../../columns/index.js'
import type { TableStore } from '../storage/index.js'
import { liveOf, type RowsByBlock, uniteSelections } from '../storage/index.js'

/** Rows of a column that are yet to be computed: what was postponed, or is more than one edit computes at once. */
export class StaleRows {
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
