/**
 * The workbook: operations in, change sets out. Names, properties and undo live here; cells live in columns, and keeping them
 * in step is the engine's. Start reading at `workbook.ts`, then `operations/`, then `bind.ts`.
 * @module
 */

export type { Acceptance } from './acceptance.js'
export type { AcceptedFinding } from './accepted.js'
export type { AddressedName } from './address.js'
export type { ShownValue } from './cell-values.js'
export type { ChangeSet, ColumnCells, InsertedRows } from './change-set.js'
export type { Completeness } from './completeness.js'
export { type Displayed, displayOf } from './display.js'
export type { Evaluated } from './evaluate.js'
export type { GroupQuery } from './group-query.js'
export type { ColumnMemory, MemoryReport } from './memory.js'
export type { ColumnProperties } from './model.js'
export { OPERATION_NAMES } from './operations/index.js'
export type { ColumnPreview } from './preview.js'
export type { ChangedRow, ColumnEffect, OperationsPreview } from './preview-operations.js'
export { type OrderKey, parseOrder, type Query, type QueryColumn, type QueryResult } from './query.js'
export type { SampleRow } from './sample-rows.js'
export type { CellValue } from './schemas/cell-value.js'
export type { ColumnSpec } from './schemas/column-spec.js'
export type { Operation, OperationJson } from './schemas/operation.js'
export type { BookSnapshot, SnapshotCells, TakenSnapshot, UnsavedColumn } from './snapshot/index.js'
export type { TableLanguage } from './table-language.js'
export type { ColumnView, TableView } from './table-view.js'
export {
  type Derivation,
  type DerivationRead,
  derivationText,
  type EdgeKind,
  type EdgeRole,
  type RowUsed,
  type Trace,
  type TraceEdge,
  traceMermaid,
  traceText,
} from './tracing/index.js'
export { Workbook } from './workbook.js'
export type { ApplyOptions, Flushed, KeptRevision, Step, WorkbookOptions } from './workbook-options.js'
export type { WorkbookView } from './workbook-view.js'
