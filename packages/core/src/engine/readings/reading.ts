import type { Selection, Vector } from '../../columns/index.js'
import type { NodeId } from '../node.js'
import type { Round, RowsByBlock } from '../round.js'
import type { Way } from '../way.js'

/** What a formula reads from other rows than its own. */
export interface Reading {
  /** How it gets at what it gives. */
  readonly way: Way
  /** What it follows. */
  readonly sources: readonly NodeId[]
  /** Pairs of rows that all rows together try, for a way that tries pairs. */
  readonly pairs?: number
  /** Fills in what it gives for some rows of a block. */
  fill(block: number, out: Vector, selection: Selection): void
  /** The rows that may get something else after this round, one by one or by block; null when all may. */
  touched(round: Round): Iterable<number> | RowsByBlock | null
  /** Notes what has to be known of what it reads before that changes, in a workbook opened from a file. */
  prime?(): void
}
