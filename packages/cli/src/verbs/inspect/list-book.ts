import { printName, type WorkbookView } from 'mellow-abacus'
import { type BookAtHand, lookAt } from '../../books/index.js'
import { writeResult } from '../../output/index.js'
import type { Io } from '../../shell/index.js'
import { recordRows } from './records.js'
import type { RowsArguments } from './rows-arguments.js'

type Listed = {
  readonly kind: string
  readonly address: string
  readonly type?: string | null
  readonly unit?: string | null
  readonly formula?: string | null
  readonly state?: string | null
  readonly rows?: number | null
  readonly bytes?: number | null
  readonly findings?: number | null
}

const COLUMNS = [
  ...['kind', 'address', 'type', 'unit', 'formula', 'state'].map((name) => ({ name, type: 'text' })),
  ...['rows', 'bytes', 'findings'].map((name) => ({ name, type: 'number' })),
]

/** Runs `mellow list`. */
export function runList(book: string, kind: string | undefined, args: RowsArguments, io: Io): Promise<number> {
  return lookAt(book, args, io, async (file) => {
    const listed = definitionsOf(file).filter((one) => kind === undefined || one.kind === kind)
    await writeResult(recordRows(COLUMNS, listed), args, io)
    return undefined
  })
}

function definitionsOf(file: BookAtHand): Listed[] {
  const { book } = file
  const stored = file.storedBytes()
  const values = book.values.map((name): Listed => {
    const typed = String(book.value(name) ?? '')
    return { kind: 'value', address: `value:${printName(name)}`, formula: book.valueFormula(name) ?? typed }
  })
  const functions = book.functions.map(({ name, form, formula, type }): Listed => {
    return { kind: 'function', address: `function:${name}`, type, formula: `${form} = ${formula}` }
  })
  const reports = book.reports.map((name): Listed => {
    const { table, levels = [], tallies = [] } = book.reportDefinition(name)
    const keys = levels.map((level) => level.name ?? level.key).join(', ')
    const formula = `${table} by ${keys || 'nothing'}: ${tallies.map((tally) => tally.formula).join(', ')}`
    return { kind: 'report', address: `report:${printName(name)}`, formula }
  })
  const charts = book.charts.map((name): Listed => {
    const { table, report, x, series } = book.chartDefinition(name)
    const over = series.map((one) => one.formula).join(', ')
    return {
      kind: 'chart',
      address: `chart:${printName(name)}`,
      formula: `${table ?? report}: ${over}${x === undefined ? '' : ` by ${x}`}`,
    }
  })
  return [...book.tables.flatMap((name) => definitionsIn(book, name, stored)), ...values, ...functions, ...reports, ...charts]
}

function definitionsIn(book: WorkbookView, name: string, stored: ReadonlyMap<number, number>): Listed[] {
  const table = book.table(name)
  const own = printName(name)
  const columns = table.columns.map((column): Listed => {
    const states = [
      column.isPaused ? 'paused' : '',
      column.properties.stamp === undefined ? '' : 'stamp',
      column.properties.hidden === true ? 'hidden' : '',
      column.properties.hiddenFrom === undefined ? '' : `hidden from ${column.properties.hiddenFrom.map(printName).join(', ')}`,
      column.properties.fixed === true ? 'fixed' : '',
      column.stale > 0 ? 'stale' : '',
    ]
    return {
      kind: 'column',
      address: `${own}.${printName(column.name)}`,
      type: column.type,
      unit: column.unit,
      formula: column.formula,
      state: states.filter((one) => one !== '').join(', ') || null,
      rows: table.rowCount,
      bytes: stored.get(column.id) ?? 0,
      findings: column.findings().length || null,
    }
  })
  const bytes = columns.reduce((sum, one) => sum + (one.bytes ?? 0), 0)
  return [
    { kind: 'table', address: own, rows: table.rowCount, bytes },
    ...columns,
    ...table.links.map(
      (link): Listed => ({ kind: 'link', address: `link:${own}.${printName(link)}`, formula: table.link(link) ?? null }),
    ),
    ...table.tallies.map((tally): Listed => {
      const { type, properties } = table.tallyFacts(tally)
      const of = { type, unit: properties.unit ?? null, formula: table.tallyFormula(tally) }
      return { kind: 'tally', address: `tally:${own}.${printName(tally)}`, ...of }
    }),
    ...table.rules.map(
      ({ name: rule, condition, severity }): Listed => ({
        kind: 'rule',
        address: `rule:${printName(rule)}`,
        formula: condition,
        state: severity === 'hint' ? 'hint' : null,
      }),
    ),
  ]
}
