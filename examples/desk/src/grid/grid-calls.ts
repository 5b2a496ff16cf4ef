import type { WindowOutline } from '@mellow-abacus/session'
import type { SortKey } from './rod-head'
import type { Travel } from './travel'

/** How the rows of a table are looked at. */
export interface TableLook {
  readonly where: string
  readonly sorts: readonly SortKey[]
  /** The column whose equal values stand together, and which groups are folded, as JSON of their value; null for no groups. */
  readonly group: { readonly column: string; readonly folded: readonly string[] } | null
  /** Which rows of an outline are folded; null where rows stand as they come, though some have a parent. */
  readonly outline: WindowOutline | null
}

/** Every row, as rows stand. */
export const PLAIN_LOOK: TableLook = { where: '', sorts: [], group: null, outline: {} }

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
  /** Goes to a cell. */
  travel(to: Travel): void
  /** Opens the current row as a form, and why its cell is as it is. */
  form(): void
  why(): void
  about(column: string, isRenaming: boolean): void
}
