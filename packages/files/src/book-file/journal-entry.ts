import type { Operation } from 'mellow-abacus'

/** One step of the history of a workbook. */
export interface JournalEntry {
  readonly revision: number
  readonly kind: 'apply' | 'undo' | 'redo'
  /** Wall-clock time, ISO 8601. */
  readonly at: string
  readonly author: string
  readonly operations: readonly Operation[]
  /** Calculated cells that followed, by column. */
  readonly recalculated: readonly { readonly table: string; readonly column: string; readonly rows: number }[]
}
