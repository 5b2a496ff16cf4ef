/**
 * What a definition or operations would do, with sample rows that tell most.
 *
 * In come a formula or operations, out go rows and counts; nothing is kept. Start reading at `preview-column.ts`.
 * @module
 */

export { type ColumnPreview, previewColumn, type TriedColumn } from './preview-column.js'
export { type ChangedRow, type ColumnEffect, type OperationsPreview, previewOperations } from './preview-operations.js'
export type { SampleRow } from './sample-rows.js'
