import type { ChangeSet, Operation } from 'mellow-abacus'

/** Rows of one change that are told apart; of more, a whole column is looked at. */
const MOST_TOLD_APART = 2_000

/** What some changes have touched, as far as windows go by it. */
export class TouchedCells {
  /** By table and column, ids of rows; null where they are too many to tell apart. */
  readonly #cells: Map<string, Set<number> | null> = new Map()
  /** Tables of which rows came, went or were put elsewhere. */
  readonly #tables: Set<string> = new Set()
  /** True where something was defined otherwise. */
  definitions = false

  /** Notes a change as someone sees it. */
  note({ changed, stale, inserted, removed }: ChangeSet): void {
    for (const cells of [...changed, ...stale]) {
      const key = keyOf(cells)
      const known = this.#cells.get(key)
      if (known === null) continue
      if (cells.rows > MOST_TOLD_APART || (known?.size ?? 0) > MOST_TOLD_APART) {
        this.#cells.set(key, null)
        continue
      }
      const ids = known ?? new Set<number>()
      for (const id of cells.ids()) ids.add(id)
      this.#cells.set(key, ids)
    }
    for (const { table } of [...inserted, ...removed]) this.#tables.add(table)
  }

  /** Notes operations that move rows, which changes no cell. */
  noteMoves(operations: readonly Operation[]): void {
    for (const operation of operations) if (operation.op === 'move-rows') this.#tables.add(operation.table)
  }

  /** True where rows of a table came, went or were put elsewhere. */
  hasRowsOf(table: string): boolean {
    return this.#tables.has(table)
  }

  /** True where any cell of a column was touched. */
  hasColumn(place: { readonly table: string; readonly column: string }): boolean {
    return this.#cells.has(keyOf(place))
  }

  /** True where a cell was touched, or may have been. */
  hasCell(place: { readonly table: string; readonly column: string }, id: number): boolean {
    const ids = this.#cells.get(keyOf(place))
    return ids === null || ids?.has(id) === true
  }
}

function keyOf({ table, column }: { readonly table: string; readonly column: string }): string {
  return JSON.stringify([table, column])
}
