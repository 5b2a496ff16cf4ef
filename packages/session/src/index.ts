/**
 * Sessions at a shared workbook: what it takes to read, edit and follow one, wherever it is held.
 *
 * In come requests, out go plain answers and news. Start reading at `book-session.ts`, then `port/port-session.ts`.
 * @module
 */
export type {
  BookFacts,
  BookSession,
  ChartAnswer,
  ColumnFacts,
  ColumnProfile,
  EditKey,
  EditOptions,
  Exported,
  ExportFormat,
  FitAnswer,
  FunctionFacts,
  HistoryStep,
  ImportedChange,
  ImportedRows,
  LanguageSession,
  MovedAnswer,
  MovedRequest,
  PreviewAnswer,
  ReportAnswer,
  RowAnswer,
  RowsAnswer,
  RowsRequest,
  SeekAnswer,
  SeekRequest,
  SessionReader,
  StepCell,
  TableFacts,
  TurnOptions,
  ValueMove,
} from './book-session.js'
export {
  type AppliedChange,
  type CellCount,
  type Ending,
  ending,
  type MetCell,
  type SessionChange,
  type SessionEvent,
} from './changes.js'
export { bookFileAt, putBookFile } from './http/book-files.js'
export { connect } from './http/connect.js'
export type { FeedCells } from './http/feed-client.js'
export type { ConnectOptions } from './http/requests.js'
export {
  type CallMessage,
  type HostMessage,
  type Port,
  type PortMessage,
  SESSION_METHODS,
  type SessionMethod,
} from './port/messages.js'
export { sessionOverPort } from './port/port-session.js'
export type { Appearance, Place, Someone } from './presence.js'
export { type FaultFacts, SessionFault, type SessionFaultCode } from './session-fault.js'
export { type Carried, type SessionCells, type SessionRow, type SessionValue, sessionValue } from './values.js'
export { type WindowHold, WindowStore } from './window-store.js'
export {
  afterNews,
  isSameStand,
  type LiveWindow,
  MOST_WINDOW_ROWS,
  newsBetween,
  type RowStand,
  type RowsToShow,
  USUAL_ROWS,
  type WindowNews,
  type WindowOutline,
  type WindowRequest,
  type WindowRow,
  type WindowShown,
  type WindowSpan,
} from './windows.js'
