/**
 * Where a value comes from, and what an edit reaches.
 *
 * In come a cell or a column, out go its derivation or its edges. Start reading at `why.ts`, then `trace.ts`.
 * @module
 */
export { derivationText } from './derivation-text.js'
export type { EdgeKind, EdgeRole, TraceEdge } from './edges.js'
export { type Figure, figureAt, type RowShare, type RowShares, sharesOf, type TakenRows } from './figure.js'
export { movesBetween, type RowMove, type RowMoves } from './moves.js'
export { type ShownIn, type Trace, traceColumn, traceMermaid, traceText } from './trace.js'
export { type Derivation, type DerivationRead, deriveCell, type RowUsed } from './why.js'
