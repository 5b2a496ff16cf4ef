import { type Zippable, zipSync } from 'fflate'
import { CellFault, type ColumnView, type SlimView, type TableView, type WorkbookView } from 'mellow-abacus'
import { tableBytes } from '../writing/table-bytes.js'
import type { Bundle } from './bundle-shape.js'

/** The time of every part: two bundles of one workbook are the same bytes, whenever they are written. */
const MADE = '1980-01-01T00:00:00'

/** A workbook that knows what is kept in it to be looked at: one that only calculates would lose it. */
type WholeBook = SlimView & Pick<WorkbookView, 'reports' | 'reportDefinition' | 'charts' | 'chartDefinition'>

/** A workbook as a bundle: its definitions as JSON, the cells of its source columns as CSV, a part a table. */
export async function writeBundle(book: WholeBook): Promise<Uint8Array> {
  const parts: Zippable = {}
  const tables: Bundle['tables'] = []
  for (const [index, name] of book.tables.entries()) {
    const table = book.table(name)
    const sources = table.columns.filter(isSource).map((column) => column.name)
    const data = sources.length === 0 ? null : `tables/${String(index + 1).padStart(2, '0')}-${plain(name)}.csv`
    if (data !== null) parts[data] = await tableBytes(book.query({ table: name, columns: sources }), 'csv')
    tables.push(tableOf(table, data))
  }
  const { now, seed, zone, locale } = book.surroundings
  const bundle: Bundle = {
    format: 'mellow-bundle',
    version: 1,
    surroundings: { now, seed, zone, locale },
    mode: book.mode,
    ...(Object.keys(book.metadata).length > 0 && { metadata: { ...book.metadata } }),
    values: book.values.map((value) => namedValue(book, value)),
    ...(book.functions.length > 0 && {
      functions: book.functions.map(({ name, parameters, formula, note }) => ({
        name,
        parameters: [...parameters],
        formula,
        ...(note !== null && { note }),
      })),
    }),
    tables,
    ...(book.reports.length > 0 && {
      reports: book.reports.map((name) => ({ name, report: { ...book.reportDefinition(name) } })),
    }),
    ...(book.charts.length > 0 && { charts: book.charts.map((name) => ({ name, chart: { ...book.chartDefinition(name) } })) }),
  }
  const json = new TextEncoder().encode(`${JSON.stringify(bundle, null, 2)}\n`)
  return zipSync({ 'book.json': json, ...parts }, { mtime: new Date(MADE) })
}

const isSource = (column: ColumnView): boolean => column.formula === null || column.isPaused
const plain = (name: string): string => name.replace(/[^\p{L}\p{N}_-]/gu, '_').slice(0, 40)

function namedValue(book: SlimView, name: string): Bundle['values'][number] {
  const formula = book.valueFormula(name)
  if (formula !== null) return { name, formula }
  const value = book.value(name)
  const type = book.valueType(name)
  return { name, ...(type !== null && { type }), value: value instanceof CellFault ? (value.text ?? null) : value }
}

function tableOf(table: TableView, data: string | null): Bundle['tables'][number] {
  const { label, key, parent } = table.properties
  const numbers = new Map(table.rowIds().map((id, index) => [id, index + 1]))
  return {
    name: table.name,
    rows: table.rowCount,
    data,
    label,
    key,
    parent,
    columns: table.columns.map((column) => columnOf(table, column, numbers)),
    links: table.links.map((name) => ({ name, ...table.linkParts(name) })),
    tallies: table.tallies.map((name) => ({ name, formula: table.tallyFormula(name) ?? 'blank', ...saidOfTally(table, name) })),
    rules: table.rules.map((rule) => ({ ...rule })),
    kept: table.columns.filter(isSource).flatMap((column) => keptOf(column)),
  }
}

/** What is said of how a tally is shown; not what it takes over from its column. */
function saidOfTally(table: TableView, name: string): Partial<Bundle['tables'][number]['tallies'][number]> {
  const { unit, symbol, display, decimals, heading, note } = table.tallyFacts(name).described
  const said = Object.entries({ unit, symbol, display, decimals, heading, note })
  return Object.fromEntries(said.filter(([, value]) => value !== undefined))
}

function columnOf(
  table: TableView,
  column: ColumnView,
  numbers: ReadonlyMap<number, number>,
): Bundle['tables'][number]['columns'][number] {
  const { stamp, orderKey, severity: _, blankIsWrong: __, tags, choices, hiddenFrom, ...properties } = column.properties
  const nameOf = (id: number | undefined): string | undefined => table.columns.find((one) => one.id === id)?.name
  const key = nameOf(orderKey)
  const { formula } = column
  const paused = column.isPaused && formula !== null
  const typed = paused ? column.typedIds().map((id) => numbers.get(id) ?? 0) : []
  const isDeclared = column.isDeclared || (isSource(column) && !paused)
  return {
    name: column.name,
    ...(column.type !== null && (isDeclared || paused) && { type: column.type }),
    ...(formula !== null && !paused && { formula }),
    ...(paused && { paused: { formula, declared: column.isDeclared, typed } }),
    ...(stamp !== undefined && { stamp: { ...stamp, when: stamp.when.flatMap((id) => nameOf(id) ?? []) } }),
    ...(key !== undefined && { orderKey: key }),
    ...(tags !== undefined && { tags: [...tags] }),
    ...(choices !== undefined && { choices: [...choices] }),
    ...(hiddenFrom !== undefined && { hiddenFrom: [...hiddenFrom] }),
    ...properties,
  }
}

/** Cells that CSV has no word for. */
function keptOf(column: ColumnView): Bundle['tables'][number]['kept'] {
  return column.values().flatMap((value, index): Bundle['tables'][number]['kept'] => {
    const place = { row: index + 1, column: column.name }
    if (value === '') return [{ ...place, value: '' }]
    return value instanceof CellFault && value.text === undefined ? [{ ...place, value: { error: value.code } }] : []
  })
}
