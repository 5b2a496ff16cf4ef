/**
 * Understanding what is calculated: a trace says which columns lead to which and how, a derivation where the value of one cell
 * comes from. In come columns and rows, out go edges and cells. Start reading at `edges.ts`.
 * @module
 */
export { derivationText } from './derivation-text.js'
export type { EdgeKind, EdgeRole, TraceEdge } from './edges.js'
export { type Trace, traceColumn, traceMermaid, traceText } from './trace.js'
export { type Derivation, type DerivationRead, deriveCell, type RowUsed } from './why.js'
