/**
 * Looks at rows: filtered, ordered, grouped, or as a formula gives them.
 *
 * In come queries, out go slots of rows and the columns to read there. Start reading at `query.ts`.
 * @module
 */

export { cellsOfFormula, type Evaluated, evaluateFormula } from './evaluate.js'
export { runGroupQuery } from './group-query.js'
export { type ColumnMemory, type MemoryReport, memoryReport } from './memory.js'
export { keysByValue } from './order-keys.js'
export { parseOrder, runQuery } from './query.js'
export type { GroupQuery, OrderKey, Query, QueryColumn, QueryParameter, QueryResult } from './query-types.js'
export { singleValue } from './single-value.js'
