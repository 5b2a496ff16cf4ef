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
import type { ChartData } from './charts/index.js'
import type { Fit, FitRequest } from './fits/index.js'
import type { ColumnPreview, TriedColumn } from './preview/index.js'
import type { MemoryReport } from './queries/index.js'
import type { GroupedResult, ReportView } from './reports/index.js'
import type { ChartDefinition, GroupedView } from './schemas/index.js'
import { SlimView } from './slim-view.js'
import type { FilledTemplate, Suggestion, SuggestionRequest } from './suggestions/index.js'
import type { TableLanguage } from './table-language.js'
import type { Derivation, Figure, Trace } from './tracing/index.js'

/** A workbook to look at, to listen to and to ask: nothing that changes it, and answers for people besides what it shows. */
export class WorkbookView extends SlimView implements Answers {
  get readerGroups(): readonly string[] {
    return readerGroupsOf(this)
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
