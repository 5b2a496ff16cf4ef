import type { ChangeSet, Operation } from 'mellow-abacus'

/** Rows of one change that are told apart; of more, a whole column is looked at. */
const MOST_TOLD_APART = 2_000

/** What some changes have touched, as far as windows go by it. */
export class TouchedCells {
  /** By table and column, ids of rows; null where they are too many to tell apart. */
  readonly #cells: Map<string, Map<string, Set<number> | null>> = new Map()
  /** Tables of which rows came, went or were put elsewhere. */
  readonly #tables: Set<string> = new Set()
  /** True where something was defined otherwise. */
  definitions = false

  /** Notes a change as someone sees it. */
  note({ changed, stale, inserted, removed }: ChangeSet): void {
    for (const cells of [...changed, ...stale]) {
      const { table, column } = cells
      const columns = this.#cells.get(table) ?? new Map<string, Set<number> | null>()
      this.#cells.set(table, columns)
      const known = columns.get(column)
      if (known === null) continue
      if (cells.rows > MOST_TOLD_APART || (known?.size ?? 0) > MOST_TOLD_APART) {
        columns.set(column, null)
        continue
      }
      const ids = known ?? new Set<number>()
      for (const id of cells.ids()) ids.add(id)
      columns.set(column, ids)
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
  hasColumn({ table, column }: { readonly table: string; readonly column: string }): boolean {
    return this.#cells.get(table)?.has(column) === true
  }

  /** Ids of the rows of which the cell in a column was touched; null where it may be any, undefined where it is none. */
  idsIn(table: string, column: string): ReadonlySet<number> | null | undefined {
    return this.#cells.get(table)?.get(column)
  }
}
