import { tableBytes, type WritableFormat } from '@mellow-abacus/files'
import { type Exported, type ExportFormat, SessionFault } from '@mellow-abacus/session'
import type { GroupedResult, QueryResult, WorkbookView } from 'mellow-abacus'
import { chartDataOf, groupsOf, rowsOf } from './rows.js'

/** Formats of rows and of lines of groups. */
const OF_ROWS: ReadonlySet<string> = new Set(['csv', 'ndjson', 'json', 'arrow', 'parquet', 'html'])

/**
 * Rows, a report or a chart as bytes in an open format.
 *
 * @throws SessionFault for a format that there is not of it
 */
export async function exportedBytes(view: WorkbookView, what: Exported, format: ExportFormat): Promise<Uint8Array> {
  const { locale } = view.surroundings
  if (!('chart' in what) && !OF_ROWS.has(format)) throw unknownFormat(format)
  const table = (result: QueryResult | GroupedResult, name: string): Promise<Uint8Array> =>
    tableBytes(result, format as WritableFormat, { name, locale })
  if ('rows' in what) return table(rowsOf(view, what.rows), what.rows.table)
  // Kept up to date while it is written, the report would be another one at its end.
  if ('report' in what) return table(groupsOf(view, what.report, what.parameters), nameOf(what.report))
  const { CHART_FORMATS, chartDrawing, drawingBytes } = await import('@mellow-abacus/charts')
  if (!(CHART_FORMATS as readonly string[]).includes(format)) throw unknownFormat(format)
  return drawingBytes(chartDrawing(chartDataOf(view, what.chart, what.parameters), { locale }), format as 'svg')
}

function unknownFormat(format: unknown): SessionFault {
  return new SessionFault({ code: 'not-found', message: `It cannot be had as ${String(format)}.` })
}

const nameOf = (report: string | { readonly table: string }): string => (typeof report === 'string' ? report : report.table)
