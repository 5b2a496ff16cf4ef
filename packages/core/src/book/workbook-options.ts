import type { ChangeSet } from './change-set.js'
import type { Operation, OperationInput } from './operations/index.js'

/** How a workbook goes about its work; nothing of it changes a value. */
export interface WorkbookOptions {
  /**
   * Cells of one column that an edit calculates before it returns, 250 000 when not given. An edit that moves more leaves them
   * stale: they are calculated when they are read, or by `settle`.
   */
  readonly mostAtOnce?: number
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
}

/** What `settle` has done. */
export interface Settlement extends Pick<ChangeSet, 'recalculated' | 'changed' | 'findings'> {
  readonly isLeft: boolean
}

/** One undo step: what takes the state back, or forth again; of a stored workbook read when it is needed. */
export type Step = readonly Operation[] | (() => readonly Operation[])

/** Operations of a call, given one by one or as a list. */
export const listOf = (operations: OperationInput | readonly OperationInput[]): readonly OperationInput[] =>
  Array.isArray(operations) ? (operations as readonly OperationInput[]) : [operations as OperationInput]

/** The operations of a step. */
export const operationsOf = (step: Step): readonly Operation[] => (typeof step === 'function' ? step() : step)
