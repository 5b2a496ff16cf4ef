import {
  type ChartAnswer,
  type FitAnswer,
  type ReportAnswer,
  type RowsAnswer,
  type SessionValue,
  sessionValue,
} from '@mellow-abacus/session'
import type { ChartData, Fit, GroupedResult, Query, QueryColumn, ShownValue, WorkbookView } from 'mellow-abacus'
import { CellFault } from 'mellow-abacus'
import { printDate, printDateTime } from 'mellow-abacus/storage'
import { recordOf } from './carried.js'

/** Rows found by a query. */
export function rowsAnswer(view: WorkbookView, query: Query): RowsAnswer {
  const found = view.query(query)
  const names = found.columns.map(({ name }) => name)
  const ids = found.ids()
  const rows = found.rows().map((values, at) => ({
    id: ids[at] as number,
    cells: recordOf(values.map((value, place) => [names[place] as string, sessionValue(value)])),
  }))
  return { revision: view.revision, columns: names, matched: found.matched, rows }
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
