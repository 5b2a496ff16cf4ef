import type { SortKey } from './rod-head'

/** How the rows of a table are looked at. */
export interface TableLook {
  readonly where: string
  readonly sorts: readonly SortKey[]
}

/** Which cell is looked at: its column, and the id of its row where there is one. */
export interface LookedAt {
  readonly column: string | null
  readonly row: number | null
  readonly place: number
}

/** What the rest of the page does for the grid. */
export interface GridCalls {
  look(look: TableLook): void
  at(at: LookedAt): void
  /** Says which rows are in hand, while there is a draft. */
  inSight(ids: readonly number[]): void
  filter(column: string): void
  editFormula(column: string): void
  addAfter(column: string | null): void
  about(column: string, isRenaming: boolean): void
}
