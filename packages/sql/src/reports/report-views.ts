import type { DefinedColumn, DefinedReport, DefinedView, Definitions } from 'mellow-abacus/model'
import { type Dialect, NoForm, ReadsNoForm } from '../dialects/index.js'
import { type Bounds, lastId, type ModelTerms, type SourceOfTable, shownColumns, type TableTerms } from '../formulas/index.js'
import { statementOf, type Term, withNames } from '../terms/index.js'
import type { Value } from '../values/index.js'
import { type LevelRows, levelRows } from './level-rows.js'
import { type LevelTable, levelTables } from './level-tables.js'

/** Formulas of a report that have no form, with the reason. */
interface ReportRefusal {
  readonly address: string
  readonly formula: string
  readonly reason: string
}

/** What a report comes to. */
export interface ReportView {
  /** The statement that makes its view; null where something of it has no form. */
  readonly text: string | null
  readonly approximate: readonly { readonly address: string; readonly formula: string; readonly bound: number | null }[]
  readonly refused: readonly ReportRefusal[]
  /** True where it reads what is left out. */
  readonly readsLeftOut: boolean
}

/** What reports are written with. */
export interface ReportWriting {
  readonly definitions: Definitions
  readonly dialect: Dialect
  /** The terms of a model with some tables more, where these are. */
  readonly terms: (definitions: Definitions, more: ReadonlyMap<string, SourceOfTable>) => ModelTerms
  readonly named: (name: string) => string
  /** How far what columns of the workbook give may be from ours. */
  readonly bounds: Bounds
}

/** What the view of a report is called. */
export function reportViewName(report: string): string {
  return `${report}!report`
}

/** A line of a level as the view has it. */
interface Branch {
  readonly level: LevelTable
  readonly rows: TableTerms
  /** By the column of the view. */
  readonly values: ReadonlyMap<number, Value>
}

/** Writes a report as a view: a row for each line, in the order of the report. */
export function reportView(report: DefinedReport, writing: ReportWriting): ReportView {
  const address = `report:${report.name}`
  const refuse = (reason: string): ReportView => ({
    text: null,
    approximate: [],
    refused: [{ address, formula: '', reason }],
    readsLeftOut: false,
  })
  const { view } = report
  if (view === null) return refuse(`it asks for ${report.asks.join(', ')} each time that it is made`)
  if (view.isSpread) return refuse('a key becomes columns there, and which ones is known only when it is made')
  if (view.hasOthers) return refuse('groups that it leaves out become a line of their own, which has no form')
  try {
    return new ReportWriter(report, view, writing).write()
  } catch (error) {
    if (error instanceof ReadsNoForm) return { text: null, approximate: [], refused: [], readsLeftOut: true }
    if (error instanceof NoForm) return refuse(error.message)
    throw error
  }
}

class ReportWriter {
  readonly #report: DefinedReport
  readonly #view: DefinedView
  readonly #writing: ReportWriting
  readonly #levels: readonly LevelTable[]
  readonly #rows: readonly LevelRows[]
  readonly #model: ModelTerms
  readonly #refused: ReportRefusal[] = []
  #readsLeftOut = false

  constructor(report: DefinedReport, view: DefinedView, writing: ReportWriting) {
    this.#report = report
    this.#view = view
    this.#writing = writing
    const { definitions, dialect } = writing
    let last = lastId(definitions)
    this.#levels = levelTables(report, view, () => ++last)
    const rows = writing.terms(definitions, new Map()).table(report.table)
    this.#rows = this.#levels.map((level) => levelRows(rows, view, level, dialect))
    const tables = [...definitions.tables, ...this.#levels.map(({ table }) => table)]
    const sources = new Map(this.#levels.map(({ table }, index) => [table.name, (this.#rows[index] as LevelRows).source]))
    this.#model = writing.terms({ ...definitions, tables }, sources)
  }

  write(): ReportView {
    const { keys, tallies, lines, shown, isFlat } = this.#view
    const all: DefinedColumn[] = [...keys, ...tallies, ...lines]
    const columns = [...keys.map(({ id }) => id), ...shown].flatMap((id) => all.find((one) => one.id === id) ?? [])
    const branches = this.#levels
      .filter(({ level }) => !isFlat || level === keys.length)
      .map((level): Branch => {
        const rows = this.#model.table(level.table.name)
        return { level, rows, values: new Map(columns.flatMap((column) => this.#value(rows, level, column))) }
      })
    const text = this.#refused.length > 0 || this.#readsLeftOut ? null : this.#text(columns, branches)
    const isApproximate = (id: number): boolean => branches.some(({ values }) => values.get(id)?.isApproximate === true)
    const keysAre = keys.some(({ id }) => isApproximate(id))
    return {
      text,
      approximate: columns
        .filter(({ id }) => keysAre || isApproximate(id))
        .map(({ id, name, formula }) => {
          const bound = keysAre ? null : this.#writing.bounds.ofReport(this.#report.name, id)
          return { address: `report:${this.#report.name}.${name}`, formula: formula ?? '', bound }
        }),
      refused: this.#refused,
      readsLeftOut: this.#readsLeftOut,
    }
  }

  /** What a column is on the lines of a level; nothing for the key of a deeper one, and for what has no form. */
  #value(rows: TableTerms, level: LevelTable, { id, name, formula }: DefinedColumn): [number, Value][] {
    const own = level.columns.get(id)
    if (own === undefined) return []
    try {
      return [[id, rows.column(own)]]
    } catch (error) {
      if (!(error instanceof NoForm)) throw error
      const reason = this.#model.refusalOf(own) ?? error
      if (reason instanceof ReadsNoForm) this.#readsLeftOut = true
      else {
        const address = `report:${this.#report.name}.${name}`
        const isKnown = this.#refused.some((one) => one.address === address)
        if (!isKnown) this.#refused.push({ address, formula: formula ?? '', reason: reason.message })
      }
      return []
    }
  }

  #text(columns: readonly DefinedColumn[], branches: readonly Branch[]): string {
    const { dialect, named } = this.#writing
    const { quote, types } = dialect
    const { isFlat, limit } = this.#view
    const mayFail = new Set(
      columns.filter(({ id }) => branches.some(({ values }) => (values.get(id)?.fault ?? null) !== null)).map(({ id }) => id),
    )
    const heads = columns.flatMap(({ id, name, type }) => {
      const own = { name, type: types[type ?? 'text'] }
      return mayFail.has(id) ? [own, { name: `${name}!fault`, type: types.text }] : [own]
    })
    // Columns of its own, which no column of the view is called as.
    const places = this.#view.keys.map((_, index) => `place!${index + 1}`)
    const selects = branches.map(({ level, rows, values }) => {
      const made = new Map<string, Term>()
      for (const column of columns) {
        const value = values.get(column.id)
        if (value === undefined) continue
        for (const one of shownColumns(rows, column, value)) made.set(one.name, one.term)
      }
      for (const [index, id] of level.places.entries())
        made.set(places[index] as string, this.#model.inRows(rows.column(id).value, rows.rows))
      const { text, nameOf } = statementOf(rows.rows, made.size === 0 ? [rows.rows.constant('1')] : [...made.values()], dialect)
      const column = (name: string, type: string): string => {
        const term = made.get(name)
        return `${term === undefined ? `cast(null as ${type})` : `v.${nameOf(term)}`} as ${quote(name)}`
      }
      const list = [
        `${level.level} as ${quote('level')}`,
        ...heads.map(({ name, type }) => column(name, type)),
        ...places.map((name) => column(name, types.number)),
      ]
      return `select ${list.join(', ')}\nfrom (\n${text}\n) as v`
    })
    const list = [...(isFlat ? [] : ['level']), ...heads.map(({ name }) => name)].map((name) => `u.${quote(name)}`)
    const order = [...(isFlat ? [] : [`u.${quote('level')} = 0`]), ...places.map((name) => `u.${quote(name)} nulls first`)]
    const within =
      limit === null || places.length === 0
        ? ''
        : `\nwhere u.${quote('level')} = 0 or u.${quote(places[0] as string)} <= ${limit}`
    const levels = this.#rows.map(({ name, select }) => `${name} as (\n${select}\n)`)
    return withNames(
      [
        `create view ${named(reportViewName(this.#report.name))} as`,
        `with ${levels.join(',\n')}`,
        `select ${list.join(', ')}`,
        `from (\n${selects.join('\nunion all\n')}\n) as u${within}`,
        ...(order.length === 0 ? [] : [`order by ${order.join(', ')}`]),
      ].join('\n'),
    )
  }
}
