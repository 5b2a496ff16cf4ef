import type { RowsByBlock, TableStore } from '../storage/index.js'
import type { NodeId } from './node-id.js'
import type { PropagationPass } from './propagation-pass.js'

/** Memory of something that the engine keeps so as not to compute it again. */
export interface IndexMemory {
  readonly kind: 'groups' | 'sorted keys' | 'kept sums' | 'kept values'
  /** The table whose rows it is about. */
  readonly store: TableStore
  /** The columns it is made from; those that only the engine knows among them. */
  readonly columns: readonly NodeId[]
  /** Bytes, of what is not an array estimated. */
  readonly bytes: number
}

/**
 * Something that is kept in step with what it is made from: a column, the groups of a table, an aggregate. A pass either
 * updates it, or has it postpone: it then notes what may have changed, and is stale until it is flushed.
 */
export interface EngineNode {
  readonly id: NodeId
  /** What it is made from. */
  readonly sources: readonly NodeId[]
  /** True while something of it is yet to be computed. */
  readonly isStale: boolean
  /** True for results that can wait in a workbook that calculates on demand; groups and indexes are always kept. */
  readonly isDeferrable: boolean
  /** True for what keeps nothing of its own, so that it need not be computed anew when a stored workbook is opened. */
  readonly isStateless?: boolean
  /** Brings it up to date, or postpones what is too much at once. What has changed in it is noted in the pass. */
  update(pass: PropagationPass): void
  /** Notes what this pass touches, to be computed later; its sources may be stale. Notes it as changed. */
  postpone(pass: PropagationPass): void
  /** Computes what was postponed, of one block of its table if it can; its sources are up to date there. */
  flush(pass: PropagationPass, block?: number): void
  /** Computes as much of what was postponed as takes a moment; where a node has none of its own, all of it is computed. */
  flushSome?(pass: PropagationPass): void
  /** Steps of flushing that are left, where it is not one. */
  readonly stepsLeft?: number
  /** The rows that were postponed, where they are known one by one. */
  staleRows?(): RowsByBlock
  /** Takes rows as postponed, as a file says they are. */
  restoreStale?(rows: RowsByBlock): void
  /** Sources that it reads in the same row only, so that one block can be computed alone. */
  readonly sameRowSources?: readonly NodeId[]
  /** Notes what has to be known of what it reads before that changes, in a workbook opened from a file. */
  prime?(): void
  /** What it keeps besides columns, for the report on memory; nothing where it keeps nothing of note. */
  memory?(): IndexMemory
  /** Called when no one needs it any more. */
  end?(): void
}
