/**
 * Columns that are kept: which values are stored for them, and which rows have to be calculated again when others change. In come
 * definitions, out go statements. Start reading at `closure.ts`, then `kept-model.ts` and `due-rows.ts`.
 * @module
 */

export { DueRows, type MovedRows } from './due-rows.js'
export { columnsOf, KeptModel, type KeptStage, type KeptTable, wasName } from './kept-model.js'
