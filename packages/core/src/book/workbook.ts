import type { Explanation } from '../formula/index.js'
import {
  type Answers,
  chartDefinitionOf,
  chartOf,
  chartsOf,
  columnPreviewOf,
  explanationOf,
  figureOf,
  fitOf,
  formulasForWords,
  groupsOf,
  languageOf,
  memoryOf,
  type ReportGiven,
  readerGroupsOf,
  reportDefinitionOf,
  reportOf,
  reportsOf,
  suggestionsOf,
  traceOf,
  whyOf,
} from './answers.js'
import { BookReader, type ReaderOptions } from './book-reader.js'
import { type ChartData, checkCharts } from './charts/index.js'
import type { Fit, FitRequest } from './fits/index.js'
import { ALL_OPERATIONS } from './operations/index.js'
import type { ColumnPreview, TriedColumn } from './preview/index.js'
import type { MemoryReport } from './queries/index.js'
import { checkHiding, revealingFindings } from './readers/index.js'
import { checkReports, type GroupedResult, type ReportView } from './reports/index.js'
import type { ChartDefinition, GroupedView } from './schemas/index.js'
import { stateOf } from './slim-view.js'
import { SlimWorkbook } from './slim-workbook.js'
import type { FilledTemplate, Suggestion, SuggestionRequest } from './suggestions/index.js'
import type { TableLanguage } from './table-language.js'
import type { Derivation, Figure, Trace } from './tracing/index.js'
import type { WorkbookOptions } from './workbook-options.js'
import { WorkbookView } from './workbook-view.js'

/**
 * A workbook: tables whose calculated columns follow every edit. Everything that changes it is an operation; everything it
 * shows is derived. Two workbooks share nothing.
 */
export class Workbook extends SlimWorkbook implements Answers {
  /** @param options - as of `SlimWorkbook` */
  constructor(options: WorkbookOptions = {}) {
    super(options)
    const state = stateOf(this).whole
    state.operations = ALL_OPERATIONS
    state.model.checkFurther = (call) => {
      checkReports(state.model, call)
      checkCharts(state.model, call)
      checkHiding(state.model, call)
    }
    state.model.furtherFindings = (engine, owned, isThorough) => revealingFindings(state.model, engine, owned, isThorough)
  }

  /**
   * The workbook as one reader has it: what they see and what they may do. What is made for others is made of it.
   *
   * @throws Refusal for a role that there is not
   */
  reader(options: ReaderOptions = {}): BookReader {
    return new BookReader(this, options)
  }

  get readerGroups(): readonly string[] {
    return readerGroupsOf(this)
  }

  override get view(): WorkbookView {
    return new WorkbookView(stateOf(this))
  }

  group(view: GroupedView): GroupedResult {
    return groupsOf(this, view)
  }

  report(name: string, given: ReportGiven = {}): ReportView {
    return reportOf(this, name, given)
  }

  get reports(): readonly string[] {
    return reportsOf(this)
  }

  get charts(): readonly string[] {
    return chartsOf(this)
  }

  reportDefinition(name: string): GroupedView {
    return reportDefinitionOf(this, name)
  }

  chartDefinition(name: string): ChartDefinition {
    return chartDefinitionOf(this, name)
  }

  chart(definition: ChartDefinition, given: ReportGiven = {}): ChartData {
    return chartOf(this, definition, given)
  }

  fit(request: FitRequest): Fit {
    return fitOf(this, request)
  }

  memory(): MemoryReport {
    return memoryOf(this)
  }

  previewColumn(table: string, column: TriedColumn): ColumnPreview {
    return columnPreviewOf(this, table, column)
  }

  why(address: string, row?: number): Derivation {
    return whyOf(this, address, row)
  }

  figure(address: string, row?: number | readonly string[]): Figure {
    return figureOf(this, address, row)
  }

  trace(address: string): Trace {
    return traceOf(this, address)
  }

  explain(table: string, formula: string): Explanation {
    return explanationOf(this, table, formula)
  }

  suggest(request: SuggestionRequest): Suggestion[] {
    return suggestionsOf(this, request)
  }

  formulasFor(table: string, words: string): FilledTemplate[] {
    return formulasForWords(this, table, words)
  }

  language(table: string): TableLanguage {
    return languageOf(this, table)
  }
}
