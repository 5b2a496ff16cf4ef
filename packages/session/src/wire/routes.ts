import type * as v from 'valibot'
import * as facts from './facts.js'
import * as requests from './requests.js'
import * as rows from './rows.js'
import * as values from './values.js'

/** A schema of something that goes over the wire. */
type WireSchema = v.GenericSchema

/** What one address answers to. */
export interface Route {
  readonly method: 'GET' | 'POST' | 'PUT' | 'PATCH' | 'DELETE'
  /** The address; parts that begin with a colon are named. */
  readonly path: string
  /** What it does, in a line. */
  readonly summary: string
  readonly params?: WireSchema
  readonly query?: WireSchema
  readonly body?: WireSchema
  /** Media types of bodies that are taken besides JSON. */
  readonly takes?: readonly string[]
  /** Media types of answers that are given besides JSON. */
  readonly gives?: readonly string[]
  /** The answer by status; null for one without a body. */
  readonly answers: Readonly<Record<number, WireSchema | null>>
}

const ROWS_TYPES = ['application/x-ndjson', 'text/csv', 'application/vnd.apache.arrow.stream'] as const

/** Everything that can be asked over HTTP. Each may also be answered by a `Problem`. */
export const ROUTES = {
  enter: {
    method: 'POST',
    path: '/session',
    summary: 'Exchange an invitation, as the terminal prints it for the page, for a token. It can be exchanged once.',
    body: requests.Invitation,
    answers: { 200: facts.Entered },
  },
  books: { method: 'GET', path: '/books', summary: 'The workbooks that you may come in to.', answers: { 200: facts.Books } },
  makeBook: {
    method: 'POST',
    path: '/books',
    summary: 'Make an empty workbook, or put one in: the bytes of a workbook file, with its name in the address.',
    query: requests.NewBookQuery,
    body: requests.NewBook,
    takes: ['application/octet-stream', 'application/vnd.sqlite3'],
    answers: { 201: facts.Book },
  },
  book: {
    method: 'GET',
    path: '/books/:book',
    summary: 'What there is in a workbook, and who you are at it.',
    params: requests.BookPath,
    answers: { 200: facts.Book },
  },
  removeBook: {
    method: 'DELETE',
    path: '/books/:book',
    summary: 'Remove a workbook with all its rows.',
    params: requests.BookPath,
    answers: { 204: null },
  },
  tables: {
    method: 'GET',
    path: '/books/:book/tables',
    summary: 'The tables, with their columns, links, tallies and rules.',
    params: requests.BookPath,
    answers: { 200: facts.Tables },
  },
  table: {
    method: 'GET',
    path: '/books/:book/tables/:table',
    summary: 'One table, with the JSON Schema of its rows.',
    params: requests.TablePath,
    answers: { 200: facts.Table },
  },
  rows: {
    method: 'GET',
    path: '/books/:book/tables/:table/rows',
    summary: 'Rows with their calculated values, a page at a time.',
    params: requests.TablePath,
    query: requests.RowsQuery,
    gives: ROWS_TYPES,
    answers: { 200: rows.RowsPage },
  },
  addRows: {
    method: 'POST',
    path: '/books/:book/tables/:table/rows',
    summary: 'Put in one row, several, or a file of them; answered with their calculated values.',
    params: requests.TablePath,
    query: requests.PutQuery,
    body: rows.GivenRows,
    takes: ROWS_TYPES,
    answers: { 200: rows.WrittenRows, 201: rows.WrittenRow },
  },
  row: {
    method: 'GET',
    path: '/books/:book/tables/:table/rows/:row',
    summary: 'One row with its calculated values.',
    params: requests.RowPath,
    answers: { 200: rows.OneRow, 304: null },
  },
  setRow: {
    method: 'PATCH',
    path: '/books/:book/tables/:table/rows/:row',
    summary: 'Write cells of one row; answered with its calculated values.',
    params: requests.RowPath,
    query: requests.SeenQuery,
    body: values.GivenCells,
    answers: { 200: rows.WrittenRow },
  },
  removeRow: {
    method: 'DELETE',
    path: '/books/:book/tables/:table/rows/:row',
    summary: 'Remove one row.',
    params: requests.RowPath,
    answers: { 200: rows.Applied },
  },
  operations: {
    method: 'POST',
    path: '/books/:book/operations',
    summary: 'Apply operations, all or none; or see what they would do.',
    params: requests.BookPath,
    query: requests.OperationsQuery,
    body: requests.WireOperations,
    answers: { 200: rows.AppliedOrPreview },
  },
  undo: {
    method: 'POST',
    path: '/books/:book/undo',
    summary: 'Take your last step back.',
    params: requests.BookPath,
    answers: { 200: rows.Turned },
  },
  redo: {
    method: 'POST',
    path: '/books/:book/redo',
    summary: 'Do again what you last took back.',
    params: requests.BookPath,
    answers: { 200: rows.Turned },
  },
  findings: {
    method: 'GET',
    path: '/books/:book/findings',
    summary: 'Everything found in the workbook.',
    params: requests.BookPath,
    answers: { 200: facts.FindingList },
  },
  why: {
    method: 'GET',
    path: '/books/:book/cells/:table/:row/:column/why',
    summary: 'Where the value of a cell comes from.',
    params: requests.CellPath,
    answers: { 200: facts.Told },
  },
  explanation: {
    method: 'GET',
    path: '/books/:book/columns/:table/:column/explanation',
    summary: 'The formula of a column in plain English.',
    params: requests.ColumnPath,
    answers: { 200: facts.Told },
  },
  trace: {
    method: 'GET',
    path: '/books/:book/columns/:table/:column/trace',
    summary: 'What a column is made of, and what is made of it.',
    params: requests.ColumnPath,
    answers: { 200: facts.Told },
  },
  report: {
    method: 'GET',
    path: '/books/:book/reports/:name',
    summary: 'A report; its parameters by name.',
    params: requests.NamedPath,
    query: requests.ParametersQuery,
    gives: ['text/csv', 'text/html'],
    answers: { 200: facts.Report },
  },
  chart: {
    method: 'GET',
    path: '/books/:book/charts/:name',
    summary: 'The points of a chart, its drawing, or its specification; its parameters by name.',
    params: requests.NamedPath,
    query: requests.ParametersQuery,
    gives: ['image/svg+xml', 'image/png', 'application/vnd.vegalite.v6+json'],
    answers: { 200: facts.Chart },
  },
  query: {
    method: 'POST',
    path: '/books/:book/query',
    summary: 'A question: rows, groups, a chart, a curve, a named value, what a formula means, where a value comes from.',
    params: requests.BookPath,
    query: requests.QuestionQuery,
    body: requests.Question,
    gives: [...ROWS_TYPES, 'application/vnd.apache.parquet', 'text/html', 'image/svg+xml', 'image/png'],
    answers: { 200: facts.Told },
  },
  language: {
    method: 'POST',
    path: '/books/:book/language/:service',
    summary: 'Answers for editors of formulas.',
    params: requests.ServicePath,
    body: requests.LanguageBody,
    answers: { 200: facts.Told },
  },
  history: {
    method: 'GET',
    path: '/books/:book/history',
    summary: 'Steps of the history, the oldest first.',
    params: requests.BookPath,
    query: requests.HistoryQuery,
    answers: { 200: facts.History },
  },
  changes: {
    method: 'GET',
    path: '/books/:book/changes',
    summary: 'The live feed, as server-sent events.',
    params: requests.BookPath,
    query: requests.ChangesQuery,
    gives: ['text/event-stream'],
    answers: {},
  },
  presence: {
    method: 'GET',
    path: '/books/:book/presence',
    summary: 'Who is at the workbook.',
    params: requests.BookPath,
    answers: { 200: facts.Present },
  },
  setPresence: {
    method: 'PUT',
    path: '/books/:book/presence',
    summary: 'Say where you are. It is forgotten after a minute.',
    params: requests.BookPath,
    body: requests.PresenceBody,
    answers: { 200: facts.Present },
  },
  file: {
    method: 'GET',
    path: '/books/:book/file',
    summary: 'A consistent copy of the workbook file.',
    params: requests.BookPath,
    gives: ['application/vnd.sqlite3'],
    answers: {},
  },
} as const satisfies Record<string, Route>

/** The name of a route. */
export type RouteName = keyof typeof ROUTES

/** What goes wrong, everywhere. */
export const PROBLEM: typeof values.Problem = values.Problem
