import type { Selection, Vector } from '../../columns/index.js'
import type { NodeId, PropagationPass } from '../propagation/index.js'
import type { RowsByBlock } from '../storage/index.js'
import type { AccessPath } from './access-path.js'

/** What a formula reads from other rows than its own. */
export interface CrossRowInput {
  /** How it gets at what it gives. */
  readonly accessPath: AccessPath
  /** What it follows. */
  readonly sources: readonly NodeId[]
  /** Pairs of rows that all rows together try, for an access path that tries pairs. */
  readonly pairs?: number
  /** Fills in what it gives for some rows of a block. */
  fill(block: number, out: Vector, selection: Selection): void
  /** The rows that may get something else after this pass, one by one or by block; null when all may. */
  touched(pass: PropagationPass): Iterable<number> | RowsByBlock | null
  /** Notes what has to be known of what it reads before that changes, in a workbook opened from a file. */
  prime?(): void
}

/** What a formula reads of the row for which other rows are read. */
export interface OuterRowInput extends CrossRowInput {
  /** The row for which rows are read at the moment. */
  slot: number
}

/** A list of days that a formula is given whole, such as the holidays of a calendar. */
export interface DayList {
  /** What it follows. */
  readonly sources: readonly NodeId[]
  /** The days since 1970-01-01, ascending. */
  readonly days: Int32Array
  /** True when the list may differ after this pass. */
  hasChangedIn(pass: PropagationPass): boolean
}

/** What a plan is given by the engine: where its reads and lists come from. */
export interface PlanSupply {
  readonly inputs: readonly CrossRowInput[]
  readonly lists: readonly DayList[]
  /** Those of the inputs that depend on the row for which others are read. */
  readonly outers: readonly OuterRowInput[]
}
