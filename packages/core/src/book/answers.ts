import { refusal } from '../findings/index.js'
import type { Explanation } from '../formula/index.js'
import { type ChartData, chartData } from './charts/index.js'
import { type Fit, type FitRequest, fitRows } from './fits/index.js'
import { type Addressed, columnsRead, findColumn, formulaOf, keptView, type Model, scopeOf } from './model/index.js'
import { type ColumnPreview, previewColumn, type TriedColumn } from './preview/index.js'
import {
  conditionOf,
  type MemoryReport,
  memoryReport,
  outlineColumns,
  type PageOfRows,
  pageOfRows,
  pairsTried,
  parseOrder,
  type Query,
} from './queries/index.js'
import { groupsOfModel } from './readers/index.js'
import {
  type GroupedResult,
  makeView,
  openReport,
  type ParameterValues,
  type ReportView,
  reportAddress,
  reportFigure,
} from './reports/index.js'
import type { ChartDefinition, GroupedView } from './schemas/index.js'
import type { ShownQuery } from './shown-rows.js'
import { type SlimView, stateOf } from './slim-view.js'
import {
  type FilledTemplate,
  fillTemplates,
  type Suggestion,
  type SuggestionRequest,
  suggestFormulas,
} from './suggestions/index.js'
import { type TableLanguage, tableLanguage } from './table-language.js'
import { type Derivation, deriveCell, type Figure, figureAt, type Trace, traceColumn } from './tracing/index.js'

/** What is given when a report is made. */
export interface ReportGiven {
  /** Values of its parameters by name: dates and date-times as ISO 8601 text. */
  readonly parameters?: ParameterValues
}

/** What people ask about formulas and cells, and what a program that only calculates does without. */
export interface Answers {
  /** Names of the reports, in order. */
  readonly reports: readonly string[]
  /** Names of the charts, in order. */
  readonly charts: readonly string[]
  /** The groups of readers that columns are hidden from, in the order of the columns. */
  readonly readerGroups: readonly string[]
  /** What a report is made from; refused when there is none of this name. */
  reportDefinition(name: string): GroupedView
  /** What a chart is made from; refused when there is none of this name. */
  chartDefinition(name: string): ChartDefinition
  /**
   * The rows of a table in groups, level inside level, with columns for rows, groups and lines.
   *
   * @throws Refusal for unknown names and fields, formulas with mistakes, and conditions that are not true or false
   */
  group(view: GroupedView): GroupedResult
  /**
   * A report, which follows every edit until it is ended.
   *
   * @param name - of a report that was set by `set-report`
   * @throws Refusal for a report or parameter that there is not, and for a parameter without a value
   */
  report(name: string, given?: ReportGiven): ReportView
  /**
   * The points of a chart as they are now, by what `set-chart` takes. Drawing them is the part of `@mellow-abacus/charts`.
   *
   * @throws Refusal for unknown names and fields, formulas with mistakes, series that are no numbers, a total among bars of its
   *   parts, and a parameter of the report without a value
   */
  chart(definition: ChartDefinition, given?: ReportGiven): ChartData
  /**
   * Fits a polynomial to rows of a table by least squares, or holds a given curve to them.
   *
   * @throws Refusal for unknown names and fields, formulas with mistakes, values that are no numbers or times, a degree that is
   *   none, and no more different x than the degree
   */
  fit(request: FitRequest): Fit
  /** What columns and indexes take in memory. */
  memory(): MemoryReport
  /** What a definition would give, on sample rows, without defining anything; for a column that exists, in its place. */
  previewColumn(table: string, column: TriedColumn): ColumnPreview
  /**
   * Where the value of a cell comes from: the formula with values put in, its steps, the branches taken, and what it read, back
   * to cells that were typed or read from a file.
   *
   * @param address - `table.column`, `value:name` or `tally:table.name`
   * @param row - id of the row; left out for named values and tallies
   * @throws Refusal for a table, column or row that there is not
   */
  why(address: string, row?: number): Derivation
  /**
   * A value as it is now, to be compared with what it is at another revision: `movesBetween` says what each row has moved it by.
   *
   * @param address - `table.column`, `value:name`, `tally:table.name` or `report:name.column`
   * @param row - id of the row; of a report the keys of the group, the outermost first, as values are written (none for the whole);
   *   left out for named values and tallies
   * @throws Refusal for a table, column, row or group that there is not
   */
  figure(address: string, row?: number | readonly string[]): Figure
  /**
   * Which columns a column is made from and which are made from it, by any access path, with what an edit of them touches.
   *
   * @param address - `table.column`, `value:name` or `tally:table.name`
   * @throws Refusal for a table or column that there is not
   */
  trace(address: string): Trace
  /**
   * A formula of a table in plain English; of one of its columns, or one that is written out.
   *
   * @throws Refusal for a table that there is not
   */
  explain(table: string, formula: string): Explanation
  /**
   * Formulas that give what is wanted in some rows, the best first: each gives exactly that in these rows, and something else than
   * the others in some row.
   *
   * @throws Refusal for a table, column or row that there is not, for examples that contradict each other, and where nothing fits
   */
  suggest(request: SuggestionRequest): Suggestion[]
  /**
   * Formulas by what they are for, the best first, made of columns of a table: those that the words name, else those that fit.
   *
   * @param words - such as `average by site`, `split a name into first and last`, `days without weekends`
   * @throws Refusal for a table that there is not
   */
  formulasFor(table: string, words: string): FilledTemplate[]
  /**
   * Answers for editors of formulas of one table.
   *
   * @throws Refusal for a table that there is not
   */
  language(table: string): TableLanguage
}

/** The rows of a table of a workbook in groups; see `Workbook.group`. */
export function groupsOf(book: SlimView, view: GroupedView): GroupedResult {
  const { model, engine } = stateOf(book)
  return makeView(model, engine, view)
}

/** A report of a workbook; see `Workbook.report`. */
export function reportOf(book: SlimView, name: string, { parameters = {} }: ReportGiven = {}): ReportView {
  // The state itself: what is seen of it may become another model.
  return openReport(stateOf(book), name, parameters)
}

/** Names of the reports of a workbook. */
export function reportsOf(book: SlimView): string[] {
  return Array.from(stateOf(book).model.reports.values(), ({ name }) => name)
}

/** Names of the charts of a workbook. */
export function chartsOf(book: SlimView): string[] {
  return Array.from(stateOf(book).model.charts.values(), ({ name }) => name)
}

/** The groups of readers of a workbook. */
export function readerGroupsOf(book: SlimView): string[] {
  return groupsOfModel(stateOf(book).model)
}

/** What a report of a workbook is made from. */
export function reportDefinitionOf(book: SlimView, name: string): GroupedView {
  return keptView(stateOf(book).model.reports, 'report', name).view
}

/** What a chart of a workbook is made from. */
export function chartDefinitionOf(book: SlimView, name: string): ChartDefinition {
  return keptView(stateOf(book).model.charts, 'chart', name).definition
}

/** The points of a chart of a workbook; see `Workbook.chart`. */
export function chartOf(book: SlimView, definition: ChartDefinition, { parameters = {} }: ReportGiven = {}): ChartData {
  const { model, engine } = stateOf(book)
  return chartData(model, engine, definition, parameters)
}

/** A polynomial through rows of a workbook; see `Workbook.fit`. */
export function fitOf(book: SlimView, request: FitRequest): Fit {
  const { model, engine } = stateOf(book)
  return fitRows(model, engine, request)
}

/**
 * The columns that decide which rows a query finds, and in what order: those its condition reads, by any way, its keys, and
 * those that say which rows stand below which.
 *
 * @throws Refusal as the query would
 */
export function decidingColumns(
  book: SlimView,
  { table: name, where, order, outline }: Pick<ShownQuery, 'table' | 'where' | 'order' | 'outline'>,
): { readonly table: string; readonly column: string }[] {
  const { model } = stateOf(book)
  const table = model.table(name)
  const ids = new Set(where === undefined ? [] : columnsRead(conditionOf(table, where, scopeOf(model, table)), model))
  for (const { column } of typeof order === 'string' ? parseOrder(order) : (order ?? [])) {
    const key = table.column(column)
    for (const id of [key.id, key.properties.orderKey]) if (id !== undefined) ids.add(id)
  }
  if (outline === true) for (const id of Object.values(outlineColumns(table) ?? {})) ids.add(id)
  return [...ids].map((id) => model.columnOf(id)).map((owned) => ({ table: owned.table.name, column: owned.column.name }))
}

/**
 * Rows of a query, a page at a time; see `Query`. Pages neither repeat rows nor leave any out for edits between them, other than
 * rows that were put elsewhere themselves.
 *
 * @param after - `end` of the page before, as it came; the first page when left out
 * @throws Refusal as `query` does, and for an `after` that is none
 */
export function pageOf(book: SlimView, query: Query, after?: unknown): PageOfRows {
  const { model, engine } = stateOf(book)
  return pageOfRows(model, engine, query, after)
}

/**
 * Pairs of rows that a formula would try on all rows of a table, so that one that takes too long need not be begun; none for a
 * formula with mistakes, which is refused anyway.
 *
 * @throws Refusal for a table that there is not
 */
export function pairsOf(book: SlimView, table: string, formula: string): number {
  const { model, engine } = stateOf(book)
  return pairsTried(model, engine, table, formula)
}

/** What columns and indexes of a workbook take in memory. */
export function memoryOf(book: SlimView): MemoryReport {
  const { model, engine } = stateOf(book)
  return memoryReport(model, engine)
}

/** What a column would hold in a table of a workbook; see `Workbook.previewColumn`. */
export function columnPreviewOf(book: SlimView, table: string, column: TriedColumn): ColumnPreview {
  const { model, engine } = stateOf(book)
  return previewColumn(model, engine, model.table(table), column)
}

/** Where the value of a cell of a workbook comes from; see `Workbook.why`. */
export function whyOf(book: SlimView, address: string, row?: number): Derivation {
  const { model, engine } = stateOf(book)
  const { owned, slot } = cellAtAddress(model, address, row)
  return deriveCell(model, engine, owned, slot)
}

/** A value of a workbook as it is now; see `Workbook.figure`. */
export function figureOf(book: SlimView, address: string, row?: number | readonly string[]): Figure {
  const { model, engine } = stateOf(book)
  const ofReport = reportAddress(model, address)
  if (ofReport !== null) return reportFigure(model, engine, ofReport, typeof row === 'object' ? row : [])
  if (typeof row === 'object') throw refusal('bad-operation', { place: address, reason: 'only groups of reports have keys.' })
  const { owned, slot } = cellAtAddress(model, address, row)
  return figureAt(model, engine, owned, slot)
}

/** The cell of an address: of a row of a table, or the one of a named value or a tally. */
function cellAtAddress(
  model: Model,
  address: string,
  row: number | undefined,
): { readonly owned: Addressed; readonly slot: number } {
  const owned = findColumn(model, address)
  const { table, column } = owned
  if (table.role !== 'rows') return { owned, slot: 0 }
  const slot = row === undefined ? undefined : table.store.rows.slotOf(row)
  const place = { table: table.name, column: column.name }
  if (slot === undefined) throw refusal('unknown-row', { table: table.name, row: row ?? '(none given)' }, place)
  return { owned, slot }
}

/** What a column of a workbook is made from and what is made from it; see `Workbook.trace`. */
export function traceOf(book: SlimView, address: string): Trace {
  const { model, engine } = stateOf(book)
  return traceColumn(model, engine, findColumn(model, address))
}

/** A formula of a table of a workbook in plain English; see `Workbook.explain`. */
export function explanationOf(book: SlimView, table: string, formula: string): Explanation {
  const column = stateOf(book).model.table(table).find(formula)
  const text = column === undefined ? undefined : formulaOf(column)?.text
  return languageOf(book, table).explain(text ?? formula)
}

/** Formulas of a table of a workbook that give what is wanted in some rows; see `Workbook.suggest`. */
export function suggestionsOf(book: SlimView, request: SuggestionRequest): Suggestion[] {
  const { model, engine } = stateOf(book)
  return suggestFormulas(model, engine, request)
}

/** Formulas of a table of a workbook by what they are for; see `Workbook.formulasFor`. */
export function formulasForWords(book: SlimView, table: string, words: string): FilledTemplate[] {
  const { model, engine } = stateOf(book)
  return fillTemplates(model, engine, table, words)
}

/** Answers for editors of formulas of one table of a workbook; see `Workbook.language`. */
export function languageOf(book: SlimView, table: string): TableLanguage {
  const { model } = stateOf(book)
  return tableLanguage(model, model.table(table))
}
