import type { DayList } from '../../lowered-plans/index.js'
import type { NodeId } from '../../propagation/index.js'
import { latestPass, type PropagationPass } from '../../propagation/index.js'
import type { TableStore } from '../../storage/index.js'
import { cellOf } from '../../storage/index.js'

/** The days of a column over the rows of a table where a condition holds, ascending: `every calendar.day where holiday`. */
export class HolidayList implements DayList {
  readonly sources: readonly NodeId[]
  readonly #store: TableStore
  readonly #column: NodeId
  readonly #where: NodeId | null
  /** Made anew in each pass that asks: the one who recomputes everything asks no one what has changed. */
  #days: Int32Array | null = null
  #madeIn = 0

  constructor(store: TableStore, column: NodeId, where: NodeId | null) {
    this.#store = store
    this.#column = column
    this.#where = where
    this.sources = [column, store.rowsNode, ...(where === null ? [] : [where])]
  }

  /** The days; a row with an error is none of them. */
  get days(): Int32Array {
    if (this.#days === null || this.#madeIn !== latestPass()) {
      this.#madeIn = latestPass()
      const [column, where] = [this.#store.column(this.#column), this.#where === null ? null : this.#store.column(this.#where)]
      const days = new Set<number>()
      for (const slot of this.#store.rows.inOrder()) {
        const day = cellOf(column, slot)
        if (typeof day === 'number' && (where === null || cellOf(where, slot) === true)) days.add(day)
      }
      this.#days = Int32Array.from(days).sort()
    }
    return this.#days
  }

  /** True when the list may differ after this pass. */
  hasChangedIn(pass: PropagationPass): boolean {
    const { everyRow, inserted, removed } = pass.rowsOf(this.#store)
    return everyRow || inserted.size > 0 || removed.size > 0 || this.sources.some((id) => pass.changedIn(id) !== undefined)
  }
}
