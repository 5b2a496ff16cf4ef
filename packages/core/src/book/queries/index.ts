/**
 * Looks at rows: filtered, ordered, grouped, or as a formula gives them.
 *
 * In come queries, out go slots of rows and the columns to read there. Start reading at `query.ts`.
 * @module
 */

export { cellsOfPlan, type Evaluated, evaluateFormula, pairsTried } from './evaluate.js'
export { type ColumnMemory, type MemoryReport, memoryReport } from './memory.js'
export { columnGiven, compareScalars, inPlaces, keysByValue, placesOf } from './order-keys.js'
export { type Outline, outlineColumns, outlined, parentsOf, rowsInLoops } from './outline.js'
export { type PageEnd, type PageOfRows, pageOfRows } from './page-of-rows.js'
export { conditionOf, otherThanCondition, parseOrder, runQuery, sortSlots, stateOf } from './query.js'
export type { OrderKey, Query, QueryColumn, QueryParameter, QueryResult } from './query-types.js'
export { singleValue } from './single-value.js'
