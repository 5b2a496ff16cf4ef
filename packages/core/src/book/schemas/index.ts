/**
 * What operations look like as JSON: one file an operation. Its comments are its reference.
 *
 * In comes JSON from anywhere, out go operations that are as they should be, or a refusal naming the field. Start reading at
 * `define-schema.ts`, then `set-cells.ts`.
 * @module
 */

export { type AcceptFinding, acceptFindingSchema, type WithdrawAcceptance, withdrawAcceptanceSchema } from './accept-finding.js'
export { addColumnSchema, type JournaledAddColumn } from './add-column.js'
export { addLinkSchema, type JournaledAddLink } from './add-link.js'
export { addTableSchema, type JournaledAddTable } from './add-table.js'
export { changeColumnSchema, type JournaledChangeColumn } from './change-column.js'
export { type ChangeTable, changeTableSchema } from './change-table.js'
export { type ChartDefinition, type ChartFit, type ChartOrder, type ChartSeries, chartShape, type SeriesKind } from './chart.js'
export type { DescribedProperties } from './column-properties.js'
export { type ColumnSpec, JournaledColumn } from './column-spec.js'
export type { AnyOperationSchema } from './define-schema.js'
export { type DetachColumn, detachColumnSchema } from './detach-column.js'
export { isMoment, JsonValue, Locale, MOST_NEW_ROWS, MOST_ROWS, Moment, Seed, Text, Zone } from './fields.js'
export { fillColumnSchema, type JournaledFillColumn } from './fill-column.js'
export {
  type GroupedView,
  groupedViewShape,
  type ViewFormula,
  type ViewLevel,
  type ViewOrder,
  type ViewParameter,
  type ViewTop,
} from './grouped-view.js'
export { insertRowsSchema, type JournaledInsertRows } from './insert-rows.js'
export { type MoveColumn, moveColumnSchema } from './move-column.js'
export { type JournaledMoveRows, moveRowsSchema } from './move-rows.js'
export { isNumberArray, type NumberArray } from './number-array.js'
export type { JournaledOperation, Operation, OperationJson } from './operation.js'
export { operationsOfCall } from './operations-of-call.js'
export { type JournaledPauseColumn, pauseColumnSchema } from './pause-column.js'
export { readGiven } from './read-given.js'
export { type Recalculate, recalculateSchema } from './recalculate.js'
export { type RemoveColumn, removeColumnSchema } from './remove-column.js'
export { type RemoveLink, removeLinkSchema } from './remove-link.js'
export { type RemoveRows, removeRowsSchema } from './remove-rows.js'
export { type RemoveTable, removeTableSchema } from './remove-table.js'
export { type RenameColumn, renameColumnSchema } from './rename-column.js'
export { type RenameTable, renameTableSchema } from './rename-table.js'
export { type RereadRows, rereadRowsSchema } from './reread-rows.js'
export { type ResumeColumn, resumeColumnSchema } from './resume-column.js'
export { listIds, packIds, RowIds } from './row-ids.js'
export { type JournaledSetCells, setCellsSchema } from './set-cells.js'
export { type RemoveChart, removeChartSchema, type SetChart, setChartSchema } from './set-chart.js'
export {
  type RemoveFunction,
  type RenameFunction,
  removeFunctionSchema,
  renameFunctionSchema,
  type SetFunction,
  setFunctionSchema,
} from './set-function.js'
export { type SetMetadata, setMetadataSchema } from './set-metadata.js'
export { type SetMode, setModeSchema } from './set-mode.js'
export { type RemoveReport, removeReportSchema, type SetReport, setReportSchema } from './set-report.js'
export { type JournaledSetRule, type RemoveRule, removeRuleSchema, setRuleSchema } from './set-rule.js'
export { type JournaledSetStamp, type StampCells, setStampSchema, stampCellsSchema } from './set-stamp.js'
export { type SetSurroundings, setSurroundingsSchema } from './set-surroundings.js'
export { type JournaledSetTally, type RemoveTally, removeTallySchema, setTallySchema } from './set-tally.js'
export { type JournaledSetValue, type RemoveValue, removeValueSchema, setValueSchema } from './set-value.js'
export { blockEntries, carriedBlock, type GivenCells } from './stored-block.js'
export { type Tick, tickSchema } from './tick.js'
