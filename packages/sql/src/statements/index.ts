/**
 * A workbook as statements for an engine. In comes a workbook, out go the statements that make its tables and views. Start reading at
 * `model-sql.ts`.
 * @module
 */

export { SINCE } from './kept-tables.js'
export type { MakingStatement } from './making-statement.js'
export {
  type ApproximateColumn,
  givenModelSql,
  keptModelOf,
  type ModelSql,
  type ModelSqlOptions,
  modelSql,
  type RefusedFormula,
  refusedText,
} from './model-sql.js'
export { NOTICES, notedName } from './noted-tables.js'
