import {
  type ChartAnswer,
  type FitAnswer,
  type ReportAnswer,
  type RowsAnswer,
  type RowsRequest,
  type SessionValue,
  sessionValue,
} from '@mellow-abacus/session'
import type {
  ChartData,
  ChartDefinition,
  Fit,
  GroupedResult,
  GroupedView,
  PageEnd,
  PageOfRows,
  QueryColumn,
  ShownValue,
  WorkbookView,
} from 'mellow-abacus'
import { CellFault, pageOf } from 'mellow-abacus'
import { printDate, printDateTime } from 'mellow-abacus/storage'
import { recordOf } from './carried.js'

/** A page of rows found by a query. */
export function rowsOf(view: WorkbookView, { after, ...query }: RowsRequest): PageOfRows {
  return pageOf(view, query, after === undefined ? undefined : endOfText(after))
}

/** The same as plain data. */
export function rowsAnswer(view: WorkbookView, request: RowsRequest): RowsAnswer {
  const found = rowsOf(view, request)
  const names = found.columns.map(({ name }) => name)
  const ids = found.ids()
  const rows = found.rows().map((values, at) => ({
    id: ids[at] as number,
    cells: recordOf(values.map((value, place) => [names[place] as string, sessionValue(value)])),
  }))
  return {
    revision: view.revision,
    columns: names,
    matched: found.matched,
    rows,
    next: found.end === null ? null : textOfEnd(found.end),
  }
}

/** Where a page ended as a text for addresses: base64url (RFC 4648, 5). */
function textOfEnd(end: PageEnd): string {
  const bytes = new TextEncoder().encode(JSON.stringify(end))
  const text = btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(''))
  return text.replaceAll('+', '-').replaceAll('/', '_').replaceAll('=', '')
}

/** The same of the text; null, which no page ended at, for any other text. */
function endOfText(text: string): unknown {
  try {
    const bytes = Uint8Array.from(atob(text.replaceAll('-', '+').replaceAll('_', '/')), (unit) => unit.charCodeAt(0))
    return JSON.parse(new TextDecoder().decode(bytes))
  } catch {
    return null
  }
}

/** A report that is kept, by its name, or rows in groups as a view says; until the workbook changes. */
export function groupsOf(view: WorkbookView, report: string | GroupedView, parameters: GivenValues = {}): GroupedResult {
  if (typeof report !== 'string') return view.group(report)
  using open = view.report(report, { parameters: valuesOf(parameters) })
  return open.current
}

/** A chart that is kept, by its name, or one as its definition says; until the workbook changes. */
export function chartDataOf(view: WorkbookView, chart: string | ChartDefinition, parameters: GivenValues = {}): ChartData {
  const definition = typeof chart === 'string' ? view.chartDefinition(chart) : chart
  return view.chart(definition, { parameters: valuesOf(parameters) })
}

/** Values of parameters by name. */
export type GivenValues = Readonly<Record<string, SessionValue>>

/** The same as the library takes them. */
function valuesOf(parameters: GivenValues): Record<string, string | number | boolean> {
  const given = Object.entries(parameters).flatMap(([name, value]) => (typeof value === 'object' ? [] : [[name, value] as const]))
  return Object.fromEntries(given)
}

/** Groups with their totals, as lines. */
export function reportAnswer(view: WorkbookView, made: GroupedResult): ReportAnswer {
  return {
    revision: view.revision,
    columns: made.columns.map(({ name, type, unit }) => ({ name, type, unit })),
    levels: made.levels,
    lines: made.rows().map((values, at) => {
      const { kind, level, rowCount, row } = made.lines[at] as GroupedResult['lines'][number]
      return { kind, level, rows: rowCount, id: row, values: values.map(sessionValue) }
    }),
    rowCount: made.rowCount,
    keptCount: made.keptCount,
    findings: made.findings(),
  }
}

/** Points of a chart. */
export function chartAnswer(view: WorkbookView, { definition, x, series }: ChartData): ChartAnswer {
  return {
    revision: view.revision,
    definition,
    x: { name: x.column.name, type: x.column.type, unit: x.column.unit, categories: x.categories },
    series: series.map(({ name, kind, column, slots, blanks, errors }) => ({
      name,
      kind,
      unit: column.unit,
      blanks,
      errors,
      points: Array.from(slots, (slot) => [valueAt(x.column, slot), valueAt(column, slot)] as const),
    })),
  }
}

/** A curve through rows, without what would compute more of it. */
export function fitAnswer({ at: _, points: __, ...fit }: Fit): FitAnswer {
  return fit
}

/** The value of a slot of a column of a result, dates as ISO 8601 text. */
function valueAt({ storage, type }: QueryColumn, slot: number): SessionValue {
  const cell = storage?.read(slot) ?? null
  if (cell instanceof CellFault || typeof cell !== 'number') return sessionValue(cell as ShownValue)
  return type === 'date' ? printDate(cell) : type === 'datetime' ? printDateTime(cell) : cell
}
