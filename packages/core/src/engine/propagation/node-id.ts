import type { ColumnId } from '../../formula/index.js'

/** Identity of a node of the graph: a column's own id, or a negative number for what only the engine knows. */
export type NodeId = ColumnId

/** Stands for the clock and the seed in the graph. */
export const CLOCK_NODE = -2e12 as NodeId
