/**
 * SQL expressions as a graph, and the statements that calculate them. In come terms over rows, out goes one statement in which each is
 * calculated once. Start reading at `term.ts`, then `compose.ts`, `rows.ts`, then `demands.ts`.
 * @module
 */

export { calling, costly, fragment, interleaved, joined, literal, over, type Piece, risky, sql } from './compose.js'
export { statementOf } from './demands.js'
export { indented, type Layout } from './layers.js'
export { placeholder, withNames } from './placeholders.js'
export { Aliases, PairRows, type Rows, TableRows } from './rows.js'
export { type JoinedColumn, type JoinPlaces, type Reads, type Relation, type TableSpace, Term } from './term.js'
