/**
 * A workbook as statements for an engine. In comes a workbook, out go the statements that make its tables and views. Start reading at
 * `model-sql.ts`.
 * @module
 */

export { SINCE } from './kept-tables.js'
export type { MakingStatement } from './making-statement.js'
export type { ApproximateColumn, ModelSql, ModelSqlOptions, RefusedFormula } from './model-as-sql.js'
export { givenModelSql, keptModelOf, modelSql } from './model-sql.js'
export { NOTICES, notedName } from './noted-tables.js'
export { refusedText } from './refused-text.js'
