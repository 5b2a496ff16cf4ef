import type { Surroundings } from '../values/index.js'
import type { KeptRevision, Step, StepReader } from './calls/index.js'
import type { ChangeSet } from './transaction/index.js'

/** What formulas of a workbook go by besides its cells, as callers give it; the machine's time and the usual where left out. */
export interface GivenSurroundings extends Partial<Omit<Surroundings, 'now'>> {
  /** What its clock shows: ISO 8601 text, or milliseconds of the wall clock since 1970-01-01. */
  readonly now?: string | number
}

/** What a workbook is made with: the surroundings of its formulas, and how it goes about its work. */
export interface WorkbookOptions extends GivenSurroundings {
  /**
   * Cells of one column that an edit calculates before it returns, 250 000 when not given. An edit that moves more leaves them
   * stale: they are calculated when they are read, or by `flush`.
   */
  readonly mostAtOnce?: number
  /** How many steps can be taken back, 1 000 when not given; the oldest are forgotten. */
  readonly undoLimit?: number
  /**
   * Gets every revision before anyone is told of it, so that it can be written somewhere for good. Where it throws, the call
   * is taken back and throws the same. What it returns, if anything, reads the inverse again when it is needed, so that it is
   * not kept in memory.
   */
  readonly keep?: (revision: KeptRevision) => StepReader | undefined
  /** Gets what listeners throw; unless given, it is thrown anew after the call, where the platform reports it. */
  readonly onListenerError?: (error: unknown) => void
}

/** What `Workbook.open` takes besides what was stored. */
export interface OpenOptions extends Omit<WorkbookOptions, keyof Surroundings> {
  /** Undo steps, the last one last. */
  readonly undo?: readonly Step[]
  /** Redo steps, the next one last. */
  readonly redo?: readonly Step[]
}

/** What `flush` has done. */
export interface Flushed extends Pick<ChangeSet, 'recalculated' | 'changed' | 'findings'> {
  readonly isLeft: boolean
}
