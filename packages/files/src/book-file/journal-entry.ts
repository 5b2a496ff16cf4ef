import type { Operation } from 'mellow-abacus'

/** One step of the history of a workbook. */
export interface JournalEntry {
  readonly revision: number
  readonly kind: 'apply' | 'undo' | 'redo'
  /** Of an undo or redo of a step that was not the next to be taken: the revision of that step. */
  readonly of?: number
  /** Wall-clock time, ISO 8601; empty where it was not said. */
  readonly at: string
  /** Empty where it was not said. */
  readonly author: string
  readonly operations: readonly Operation[]
  /** Calculated cells that followed, by column. */
  readonly recalculated: readonly { readonly table: string; readonly column: string; readonly rows: number }[]
}
