import type { BookFile, JournalEntry } from '@mellow-abacus/files'
import type { ApplyOptions, ChangeSet, ColumnCells, ColumnUnit, Finding, Operation, WorkbookView } from 'mellow-abacus'

/** Cells of one column as a verb tells of them; how many are errors is not known of all. */
export type FollowedCells = Pick<ColumnCells, 'table' | 'column' | 'rows'> & Partial<Pick<ColumnCells, 'errors'>>

/** What a step did, as a verb tells of it. */
export interface Followed {
  readonly revision: number
  readonly operations: readonly Operation[]
  readonly recalculated: readonly FollowedCells[]
  readonly changed: readonly FollowedCells[]
  readonly stale: readonly FollowedCells[]
  readonly inserted: readonly { readonly table: string; readonly rows: number }[]
  readonly removed: readonly { readonly table: string; readonly ids: readonly number[] }[]
  readonly units: readonly ColumnUnit[]
  readonly findings: { readonly added: readonly Finding[]; readonly removed: readonly Finding[] }
  /** What others had written meanwhile in the same cells, in words. */
  readonly met?: readonly string[]
}

type TurnOptions = Omit<ApplyOptions, 'expects' | 'strict'>
type Soon<Answer> = Answer | Promise<Answer>

/** A workbook to try steps on; nothing of them is kept. */
interface Trial {
  readonly view: WorkbookView
  /** @throws Refusal */
  applyJson(operations: unknown): ChangeSet
  undo(): ChangeSet | null
  redo(): ChangeSet | null
}

/** A workbook that a verb works with: in a file of this machine, or at a server. */
export interface BookAtHand {
  readonly book: WorkbookView
  /** Applies operations as one step. @throws Refusal, and all that the place it is kept at throws */
  applyJson(operations: unknown, options: ApplyOptions): Soon<Followed>
  /** Takes a step back; null where there is none. Throws as `applyJson`. */
  undo(options: TurnOptions): Soon<Followed | null>
  redo(options: TurnOptions): Soon<Followed | null>
  draft(): Trial
  journal(): Iterable<JournalEntry>
  storedBytes: BookFile['storedBytes']
  close(): Soon<void>
}
