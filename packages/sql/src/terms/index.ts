/**
 * SQL expressions as a graph, and the statements that calculate them. In come terms over rows, out goes one statement in which each is
 * calculated once. Start reading at `term.ts`, then `compose.ts`, `rows.ts`, then `demands.ts`.
 * @module
 */

export { calling, costly, fragment, interleaved, joined, literal, over, risky, sql } from './compose.js'
export { statementOf } from './demands.js'
export { indented, type Layout } from './layers.js'
export { placeholder, withNames } from './placeholders.js'
export { Aliases, asStored, PairRows, TableRows } from './rows.js'
export { type JoinedColumn, type JoinPlaces, type Relation, Term } from './term.js'
