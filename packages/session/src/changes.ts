import type { ColumnUnit, Finding } from 'mellow-abacus'
import type { Someone } from './presence.js'
import type { SessionRow, SessionValue } from './values.js'

/** How many cells of one column. */
export interface CellCount {
  readonly table: string
  readonly column: string
  readonly rows: number
}

/** A cell that two have changed, neither having seen what the other did; what the later one wrote stands. */
export interface MetCell {
  readonly table: string
  /** Id of the row. */
  readonly row: number
  readonly column: string
  /** What the earlier one had written. */
  readonly theirs: SessionValue
  /** What the later one has written. */
  readonly yours: SessionValue
  /** Who the earlier one was, and when and in which revision they wrote it. */
  readonly author: string | null
  readonly at: string | null
  readonly revision: number
}

/** What one revision did, as the reader of the session sees it. */
export interface SessionChange {
  readonly revision: number
  readonly author: string | null
  /** When, ISO 8601. */
  readonly at: string | null
  /** True where something is defined otherwise than before: what there is, is to be asked for anew. */
  readonly definitions: boolean
  /** Calculated cells evaluated. */
  readonly recalculated: readonly CellCount[]
  /** Cells whose value differs now, source cells included. */
  readonly changed: readonly CellCount[]
  /** Cells left out of step with their sources, to be calculated when they are read. */
  readonly stale: readonly CellCount[]
  /** Ids of rows that are new, by table. */
  readonly inserted: readonly { readonly table: string; readonly ids: readonly number[] }[]
  /** Ids of rows that are gone, by table. */
  readonly removed: readonly { readonly table: string; readonly ids: readonly number[] }[]
  /** Columns that are in another unit now, as an edit of one's own is answered; a change that is heard of names none. */
  readonly units: readonly ColumnUnit[]
  readonly findings: { readonly added: readonly Finding[]; readonly removed: readonly Finding[] }
  /** Cells that another one had changed since the author of this last saw them. */
  readonly met: readonly MetCell[]
}

/** What an edit of one's own did, with the rows that it touched as they are now. */
export interface AppliedChange extends SessionChange {
  /** Rows that cells were set in, and new ones, with all their values; none where they were not asked for. */
  readonly rows: readonly (SessionRow & { readonly table: string })[]
}

/** What is told of without being asked for. */
export type SessionEvent =
  | ({ readonly kind: 'change' } & SessionChange)
  /** Everything is to be fetched anew: what the reader may see has changed, or what happened meanwhile is not known. */
  | { readonly kind: 'reset'; readonly revision: number }
  /** Who is there now. */
  | { readonly kind: 'presence'; readonly present: readonly Someone[] }
  /** The host cannot be reached, or can be again; what happened meanwhile is told after that. */
  | { readonly kind: 'connection'; readonly isLost: boolean }

/** Something that goes on until it is ended: by calling it, or by `using`. */
export interface Ending extends Disposable {
  /** Ends it; ending it again does nothing. */
  (): void
}

/** Makes something that can be ended of what ends it. */
export function ending(end: () => void): Ending {
  return Object.assign(() => end(), { [Symbol.dispose]: end })
}
