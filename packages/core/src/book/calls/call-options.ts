import type { Operation } from '../schemas/index.js'
import type { ChangeSet } from '../transaction/index.js'

/** What says that work is to end: an `AbortSignal` is one. */
export interface EndSignal {
  readonly aborted: boolean
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
  /** Ends the call as `progress` would: it is refused as `cancelled`, and the workbook is as it was. */
  readonly signal?: EndSignal
  /** The revision the caller saw; if the workbook has moved on, the call is refused. */
  readonly expects?: number
  /** True to refuse a call after which there would be warnings that were not there before, or that are about more rows. */
  readonly strict?: boolean
}

/** What goes with a call of `applyAsync`. */
export interface ApplyAsyncOptions extends ApplyOptions {
  /** Milliseconds that the call works before it lets the rest of the program have a turn; 12 when left out. */
  readonly sliceMs?: number
}

/** A revision that is to be written for good. */
export interface KeptRevision {
  readonly kind: 'apply' | 'undo' | 'redo'
  readonly change: ChangeSet
  /** The revision that is taken back, or undone again, where it is not the last one. */
  readonly of?: number
}

/** What reads the operations of a step when they are needed. */
export type StepReader = () => readonly Operation[]

/** One undo step: what takes a revision back, or does it again. */
export interface Step {
  /** The revision that it takes back. */
  readonly revision: number
  /** Who made that. */
  readonly author: string | null
  readonly operations: StepReader
  /** True for one taken back since which others have applied something: it is done again for its author alone. */
  readonly isOvertaken?: boolean
}
