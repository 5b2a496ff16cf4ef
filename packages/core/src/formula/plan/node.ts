import type { Selection, Vector } from '../../columns/index.js'
import type { StorageKind } from '../../values/index.js'
import type { Frame } from './frame.js'

/**
 * One step of a plan. `run` computes the selected rows of the block the frame is at; the vector it gives belongs to the one who
 * called, who gives it back to the frame.
 */
export interface PlanNode {
  readonly kind: StorageKind
  readonly run: (frame: Frame, selection: Selection) => Vector
  /**
   * True for steps that are cheap and do nothing but give a number or a truth value, so that computing them on rows that do
   * not need them costs less than listing the rows that do.
   */
  readonly isPlain?: boolean
  /** True for steps that mark rows of watched places. */
  readonly marksRows?: boolean
  /** True when every row gives the same, so that a node above may be folded. */
  readonly constant: boolean
}

/** A branch ready to run; `branch` is its number in the plan. */
export interface PlannedBranch {
  readonly condition: PlanNode
  readonly value: PlanNode
  readonly branch: number
}
