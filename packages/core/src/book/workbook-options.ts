import type { KeptRevision, Step } from './calls/index.js'
import type { ChangeSet } from './transaction/index.js'

/** How a workbook goes about its work; nothing of it changes a value. */
export interface WorkbookOptions {
  /**
   * Cells of one column that an edit calculates before it returns, 250 000 when not given. An edit that moves more leaves them
   * stale: they are calculated when they are read, or by `flush`.
   */
  readonly mostAtOnce?: number
  /** How many steps can be taken back, 1 000 when not given; the oldest are forgotten. */
  readonly undoLimit?: number
  /**
   * Gets every revision before anybody is told of it, so that it can be written somewhere for good. Where it throws, the call
   * is taken back and throws the same. What it returns, if anything, reads the inverse again when it is needed, so that it is
   * not kept in memory.
   */
  readonly keep?: (revision: KeptRevision) => Step | undefined
  /** Gets what listeners throw; unless given, it is thrown anew after the call, where the platform reports it. */
  readonly onListenerError?: (error: unknown) => void
}

/** What `flush` has done. */
export interface Flushed extends Pick<ChangeSet, 'recalculated' | 'changed' | 'findings'> {
  readonly isLeft: boolean
}
