import type { ColumnId } from '../formula/index.js'
import type { Round } from './round.js'

/** Identity of a node of the graph: a column's own id, or a negative number for what only the engine knows. */
export type NodeId = ColumnId

/** Something that is kept in step with what it is made from: a column, the groups of a table, an aggregate. */
export interface EngineNode {
  readonly id: NodeId
  /** What it is made from. */
  readonly sources: readonly NodeId[]
  /** Brings it up to date; its sources are so already. What has changed in it is noted in the round. */
  update(round: Round): void
  /** Called when nobody needs it any more. */
  end?(): void
}
