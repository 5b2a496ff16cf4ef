/**
 * The workbook: operations in, change sets out. Names, properties and undo live here; cells live in columns, and keeping them
 * in step is the engine's. Start reading at `slim-workbook.ts`, then `calls/`, `operations/` and `transaction/`.
 * @module
 */

export type { CellValue } from '../columns/index.js'
export {
  type Answers,
  decidingColumns,
  explanationOf,
  figureOf,
  fitOf,
  groupsOf,
  languageOf,
  pageOf,
  pairsOf,
  traceOf,
  whyOf,
} from './answers.js'
export type { BookFunction } from './book-function.js'
export { BookReader, type ReaderCallOptions, type ReaderOptions, type ToldStep } from './book-reader.js'
export type { ApplyAsyncOptions, ApplyOptions, EndSignal, KeptRevision, Step, StepReader, Subscription } from './calls/index.js'
export {
  type ChartAxis,
  type ChartData,
  type ChartSeriesData,
  type ChartTexts,
  chartOfTexts,
  parseChart,
} from './charts/index.js'
export type { ColumnView } from './column-view.js'
export type { AcceptedFinding, Completeness } from './diagnostics/index.js'
export {
  equationOf,
  type Fit,
  type FitCoefficient,
  type FitDefinition,
  type FitPoints,
  type FitQuantity,
  type FitRequest,
  fitDefinitions,
  type LeftOut,
  parseFit,
} from './fits/index.js'
export type {
  Acceptance,
  AddressedName,
  AttachedColumn,
  ColumnProperties,
  DatabaseSource,
  FileSource,
  ShownValue,
  TableSource,
} from './model/index.js'
export { seriesName } from './model/index.js'
export { OPERATION_NAMES } from './operations/index.js'
export type { ChangedRow, ColumnEffect, ColumnPreview, OperationsPreview, SampleRow, TriedColumn } from './preview/index.js'
export type {
  ColumnMemory,
  Evaluated,
  MemoryReport,
  OrderKey,
  PageEnd,
  PageOfRows,
  Query,
  QueryColumn,
  QueryParameter,
  QueryResult,
} from './queries/index.js'
export { parseOrder } from './queries/index.js'
export { hasRole, LEAST_ROLES, leastRoleOf, ROLES, type Role } from './readers/index.js'
export type { ChangedGroup, GroupedResult, ReportChange, ReportView, ViewLine } from './reports/index.js'
export {
  firstLines,
  foldedAt,
  isOfOutline,
  lineLabels,
  outlineHeading,
  parseLevels,
  parseViewOrder,
  parseViewParameter,
  parseViewTop,
  viewHead,
} from './reports/index.js'
export type { RowView } from './row-view.js'
export type { RowWindow, WindowQuery, WindowRow, WindowRows, WindowSpan } from './row-window.js'
export type {
  ChartDefinition,
  ChartFit,
  ChartOrder,
  ChartSeries,
  ColumnSpec,
  GroupedView,
  JsonValue,
  Operation,
  OperationJson,
  SeriesKind,
  ViewFormula,
  ViewLevel,
  ViewOrder,
  ViewParameter,
  ViewTop,
} from './schemas/index.js'
export { blockEntries } from './schemas/index.js'
export { type ShownQuery, type ShownRows, shownRowsOf } from './shown-rows.js'
export type { SlimView, WorkbookEvents } from './slim-view.js'
export { SlimWorkbook } from './slim-workbook.js'
export type { BookSnapshot, SnapshotCells, TakenSnapshot, UnsavedColumn } from './snapshot/index.js'
export type { FilledTemplate, Suggestion, SuggestionExample, SuggestionQuestion, SuggestionRequest } from './suggestions/index.js'
export type { TableLanguage } from './table-language.js'
export type { TableView, TallyFacts } from './table-view.js'
export {
  type Derivation,
  type DerivationRead,
  derivationText,
  type EdgeKind,
  type EdgeRole,
  type Figure,
  movesBetween,
  type RowMove,
  type RowMoves,
  type RowShare,
  type RowShares,
  type RowUsed,
  type ShownIn,
  type Trace,
  type TraceEdge,
  traceMermaid,
  traceText,
} from './tracing/index.js'
export type { ChangeSet, ColumnCells, ColumnUnit, InsertedRows } from './transaction/index.js'
export { Workbook } from './workbook.js'
export type { Flushed, GivenSurroundings, OpenOptions, WorkbookOptions } from './workbook-options.js'
export type { WorkbookView } from './workbook-view.js'
