import type { ChangeSet } from './change-set.js'
import type { Operation } from './schemas/operation.js'

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

/** A revision that is to be written for good. */
export interface KeptRevision {
  readonly kind: 'apply' | 'undo' | 'redo'
  readonly change: ChangeSet
}

/** What goes with a call of `apply`. */
export interface ApplyOptions {
  readonly author?: string
  /** When, as ISO 8601 text of the wall clock. */
  readonly at?: string
  /**
   * Told before anything is calculated, and again and again while it is: how much of the work is done, from 0 to 1. Giving
   * false ends it: the call is refused as `cancelled`, and the workbook is as it was.
   */
  readonly progress?: (share: number) => boolean | undefined
  /** The revision the caller saw; if the workbook has moved on, the call is refused. */
  readonly expects?: number
  /** True to refuse a call after which there would be warnings that were not there before, or that are about more rows. */
  readonly strict?: boolean
}

/** What `flush` has done. */
export interface Flushed extends Pick<ChangeSet, 'recalculated' | 'changed' | 'findings'> {
  readonly isLeft: boolean
}

/** One undo step: what takes the state back, or forth again; of a stored workbook read when it is needed. */
export type Step = readonly Operation[] | (() => readonly Operation[])

/** The operations of a step. */
export const operationsOf = (step: Step): readonly Operation[] => (typeof step === 'function' ? step() : step)
