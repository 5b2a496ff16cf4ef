import type { SlimView } from 'mellow-abacus'
import { type Checked, type DefinedColumn, type DefinedTable, type Definitions, definitionsOf } from 'mellow-abacus/model'
import { type Dialect, FAULTS, NoForm, ReadsNoForm } from '../dialects/index.js'
import {
  BOOK,
  Bounds,
  ModelTerms,
  NOWHERE,
  type ShownColumn,
  type SourceOfTable,
  shownColumns,
  type TableTerms,
} from '../formulas/index.js'
import { KeptModel } from '../kept/index.js'
import { isReportAddress, partedBy, reportNamed, reportView, reportViewName } from '../reports/index.js'
import { attachedRelation, type RelationFacts } from '../sources/index.js'
import { calling, fragment, sql, statementOf, type Term, withNames } from '../terms/index.js'
import { numberLiteral, sizeOfNumber, textLiteral, type Value, valueFrom, type Writing } from '../values/index.js'
import { type AttachedTable, attachedTable, isAttached } from './attached-tables.js'
import { copiedTable } from './copied-tables.js'
import { keptAddresses, keptStatements, SINCE } from './kept-tables.js'
import type { MakingStatement } from './making-statement.js'
import type { ApproximateColumn, GivenModel, ModelSql, ModelSqlOptions, RefusedFormula } from './model-as-sql.js'
import { notedStatements } from './noted-tables.js'

/** A view that is to be made. */
interface View {
  readonly name: string
  readonly rows: TableTerms
  readonly columns: readonly ShownColumn[]
  readonly where: Term | null
}

/** Writes a workbook as statements for an engine: its rows as tables, its formulas as views. */
export function modelSql(book: SlimView, dialect: Dialect, options: ModelSqlOptions = {}): ModelSql {
  return new ModelWriter(book, dialect, options).write()
}

/**
 * What is kept of a workbook, and the statements that make it.
 *
 * @throws NoForm where it cannot be kept
 */
export function keptModelOf(
  book: SlimView,
  dialect: Dialect,
  options: ModelSqlOptions,
): { readonly model: KeptModel; readonly statements: readonly MakingStatement[] } {
  return new ModelWriter(book, dialect, options).kept()
}

/**
 * Writes a model that was made of a workbook.
 *
 * @throws NoForm as `modelSql`
 */
export function givenModelSql(book: SlimView, dialect: Dialect, options: ModelSqlOptions, given: GivenModel): ModelSql {
  return new ModelWriter(book, dialect, options, given).write()
}

class ModelWriter {
  readonly #given: GivenModel | null
  readonly #book: SlimView
  readonly #dialect: Dialect
  readonly #schema: string
  readonly #leaveOut: readonly string[]
  readonly #leftOut: string[] = []
  readonly #statements: MakingStatement[] = []
  readonly #refused: RefusedFormula[] = []
  readonly #approximate: ApproximateColumn[] = []
  readonly #helpers: Set<string> = new Set()
  readonly #relations: Map<string, RelationFacts>
  readonly #sources: Map<string, SourceOfTable> = new Map()
  /** The same, read whatever rows come to hold. */
  readonly #guarded: Map<string, SourceOfTable> = new Map()
  readonly #definitions: Definitions
  readonly #constants: ReadonlyMap<number, Value>
  readonly #writing: Writing
  /** The terms of the views that were written last. */
  #terms: ModelTerms | null = null
  readonly #kept: readonly string[]
  readonly #since: string | null
  readonly #triggers: boolean
  readonly #bounds: Bounds

  constructor(book: SlimView, dialect: Dialect, options: ModelSqlOptions, given: GivenModel | null = null) {
    this.#given = given
    const { schema = 'mellow', leaveOut = [], relations = new Map(), kept = [], since = null, triggers = false } = options
    this.#relations = new Map(relations)
    this.#kept = kept
    this.#since = since
    this.#triggers = triggers
    this.#book = book
    this.#dialect = dialect
    this.#schema = schema
    this.#leaveOut = leaveOut
    const ofBook = definitionsOf(book)
    const definitions = given?.definitions ?? ofBook
    this.#definitions = definitions
    this.#bounds = new Bounds(ofBook, (name) => this.#rowsOf(ofBook, name))
    this.#writing = {
      dialect,
      surroundings: definitions.surroundings,
      call: (name: string, ...args: readonly Term[]) => {
        this.#need(name)
        return calling(this.#named(name), args, dialect.helpers[name]?.isRare)
      },
      constant: (expression: Checked) => definitions.constant(expression),
    }
    this.#constants = this.#constantsOf(definitions.values)
    for (const table of definitions.tables) {
      const source = given?.sources.get(table.name)
      if (source !== undefined) {
        this.#sources.set(table.name, source)
        this.#guarded.set(table.name, source)
        continue
      }
      if (isAttached(table)) {
        this.#attach(definitions, table)
        continue
      }
      const copied = copiedTable(this.#book, definitions, table, this.#dialect, (name) => this.#named(name))
      this.#sources.set(table.name, copied.source)
      this.#guarded.set(table.name, copied.source)
      for (const [index, text] of copied.statements.entries())
        this.#statements.push({ kind: index === 0 ? 'table' : 'rows', name: copied.name, text })
    }
  }

  write(): ModelSql {
    this.#refuseLongNames(this.#definitions)
    const [formulas, reports] = partedBy(this.#leaveOut, isReportAddress)
    const leftOut = new Set([...this.#idsOf(formulas, 'left out'), ...(this.#given?.leftOut ?? [])])
    const without = new Set(reports.map((address) => reportNamed(this.#definitions, address).name))
    let views = [...this.#views(leftOut, null)]
    let ofReports = this.#reports(leftOut, null, without)
    const named = { engine: this.#dialect.name, schema: this.#schema, approximate: this.#approximate, leftOut: this.#leftOut }
    if (this.#refused.length > 0) return { ...named, statements: [], refused: this.#refused, kept: [] }
    let kept: KeptModel | null = null
    if (this.#kept.length > 0) {
      const made = this.kept(leftOut)
      kept = made.model
      this.#statements.push(...made.statements)
      this.#approximate.length = 0
      this.#leftOut.length = 0
      views = this.#views(leftOut, kept)
      ofReports = this.#reports(leftOut, kept, without)
    }
    const more = this.#given?.more(this.#terms as ModelTerms, (name) => this.#named(name)) ?? []
    const made = views.map((view): MakingStatement => ({ kind: 'view', name: view.name, text: this.#view(view) }))
    const helpers = [...this.#helpers].map((name): MakingStatement => ({ kind: 'function', name, text: this.#helper(name) }))
    const statements = [...helpers, ...this.#statements, ...more, ...made, ...ofReports]
    return { ...named, statements, refused: [], kept: kept === null ? [] : keptAddresses(kept) }
  }

  /** What is kept, and what is stored for it. */
  kept(leftOut: ReadonlySet<number> = new Set()): { readonly model: KeptModel; readonly statements: readonly MakingStatement[] } {
    const ids = [...this.#idsOf(this.#kept, 'kept')]
    if (ids.some((id) => leftOut.has(id))) throw new NoForm('what is left out cannot be kept.')
    const since = this.#since === null ? [] : [this.#since]
    const isThere = (table: string): boolean =>
      this.#relations.get(table)?.columns.some(({ name }) => name === this.#since) === true
    const nameOf = (name: string): string => this.#named(name)
    const model = new KeptModel(this.#definitions, ids, {
      dialect: this.#dialect,
      writing: this.#writing,
      sources: this.#guarded,
      constants: this.#constants,
      nameOf,
      more: (table) => (isThere(table) ? Object.fromEntries(since.map((name) => [SINCE, `s.${this.#dialect.quote(name)}`])) : {}),
    })
    const noted = this.#triggers ? notedStatements(model, this.#dialect, this.#schema, this.#relations) : []
    return { model, statements: [...keptStatements(model, this.#dialect, nameOf, this.#statements), ...noted] }
  }

  /** The terms of a model, with tables that stand elsewhere than those of the workbook. */
  #termsOf(
    definitions: Definitions,
    leftOut: ReadonlySet<number>,
    kept: KeptModel | null,
    elsewhere: ReadonlyMap<string, SourceOfTable> = new Map(),
  ): ModelTerms {
    const sourceOf = ({ name }: { readonly name: string }): SourceOfTable => {
      const source = elsewhere.get(name) ?? (this.#sources.get(name) as SourceOfTable)
      const rows = kept?.keptRows(name) ?? null
      return rows === null ? source : { ...source, kept: rows }
    }
    const book = kept?.keptRows(BOOK) ?? null
    const row = book === null ? null : { ...NOWHERE, kept: book }
    return new ModelTerms(definitions, this.#writing, sourceOf, this.#constants, leftOut, row)
  }

  #views(leftOut: ReadonlySet<number>, kept: KeptModel | null): View[] {
    const { tables, values } = this.#definitions
    const model = this.#termsOf(this.#definitions, leftOut, kept)
    this.#terms = model
    const hidden = this.#given?.hiddenTables
    return [
      ...tables.flatMap((table) => (hidden?.has(table.name) === true ? [] : [this.#ofTable(model, table)])),
      ...tables.flatMap((table) => this.#ofTallies(model, table)),
      ...this.#ofValues(model, values),
      ...tables.flatMap((table) => this.#ofRules(model, table)),
    ]
  }

  /** How many rows a table of the workbook has where they all are; null where no one has counted them. */
  #rowsOf({ tables }: Definitions, name: string): number | null {
    const source = tables.find((one) => one.name === name)?.source ?? null
    if (source === null) return this.#book.table(name).rowIds().length
    return this.#relations.get(name)?.rows ?? (this.#given === null ? source.rows : null)
  }

  /** The reports, each as a view. */
  #reports(leftOut: ReadonlySet<number>, kept: KeptModel | null, without: ReadonlySet<string>): MakingStatement[] {
    return this.#definitions.reports.flatMap((report): MakingStatement[] => {
      const address = `report:${report.name}`
      const made = without.has(report.name)
        ? null
        : reportView(report, {
            definitions: this.#definitions,
            dialect: this.#dialect,
            terms: (definitions, more) => this.#termsOf(definitions, leftOut, kept, more),
            bounds: this.#bounds,
            named: (name) => this.#named(name),
          })
      if (made === null || made.readsLeftOut) this.#leftOut.push(address)
      this.#refused.push(...(made?.refused ?? []))
      this.#approximate.push(...(made?.approximate ?? []))
      const text = made?.text ?? null
      return text === null ? [] : [{ kind: 'view', name: reportViewName(report.name), text }]
    })
  }

  #attach(definitions: Definitions, table: AttachedTable): void {
    const { database } = table.source
    if (database.split(':')[0] !== this.#dialect.name)
      throw new NoForm(
        `${table.name} is attached to ${database}, so the model is published there, and not to ${this.#dialect.title}.`,
      )
    const relation = this.#relations.get(table.name) ?? attachedRelation(table.source)
    this.#relations.set(table.name, relation)
    this.#sources.set(table.name, attachedTable(definitions, table, relation, this.#dialect))
    // Rows that come later may hold anything; how many there are is not known beforehand.
    this.#guarded.set(table.name, attachedTable(definitions, table, { ...relation, rows: null }, this.#dialect, true))
  }

  /**
   * The columns that are asked for.
   *
   * @param what - what they are to be, for the message
   * @throws NoForm for an address of none
   */
  #idsOf(addresses: readonly string[], what: string): Set<number> {
    const { tables, values } = this.#definitions
    const known = new Map<string, number>()
    for (const { id, name, expression } of values) if (expression !== null) known.set(name.toLowerCase(), id)
    for (const { name: table, columns, tallies, rules } of tables) {
      for (const { id, name, expression } of [...columns, ...tallies])
        if (expression !== null || this.#sources.get(table)?.lacks.has(id) === true)
          known.set(`${table}.${name}`.toLowerCase(), id)
      for (const { id, name } of rules) known.set(name.toLowerCase(), id)
    }
    return new Set(
      addresses.map((address) => {
        const id = known.get(address.toLowerCase())
        if (id === undefined) throw new NoForm(`${address} is no formula of the workbook, so it cannot be ${what}.`)
        return id
      }),
    )
  }

  /** Names that the engine would cut off: two of them could become the same. */
  #refuseLongNames({ tables, values, reports }: Definitions): void {
    const { mostNameBytes, title } = this.#dialect
    const refuse = (address: string, name: string, formula: string | null): void => {
      if (new TextEncoder().encode(name).length <= mostNameBytes) return
      const reason = `${title} cuts names off after ${mostNameBytes} bytes, and ${name} is longer`
      this.#refused.push({ address, formula: formula ?? '', reason })
    }
    refuse('schema', this.#schema, null)
    for (const { name, formula } of values) refuse(name, `${name}!fault`, formula)
    for (const table of tables) {
      refuse(table.name, `${table.name}!tallies`, null)
      for (const { name, formula } of [...table.columns, ...table.tallies])
        refuse(`${table.name}.${name}`, `${name}!fault`, formula)
      for (const { name, formula } of table.rules) refuse(name, `${name}!violations`, formula)
    }
    for (const { name, view } of reports) {
      refuse(`report:${name}`, reportViewName(name), null)
      for (const column of [...(view?.keys ?? []), ...(view?.tallies ?? []), ...(view?.lines ?? [])])
        refuse(`report:${name}.${column.name}`, `${column.name}!fault`, column.formula)
    }
  }

  #named(name: string): string {
    return `${this.#dialect.quote(this.#schema)}.${this.#dialect.quote(name)}`
  }

  /** Notes a function, after those that it calls. */
  #need(name: string): void {
    if (this.#helpers.has(name)) return
    const helper = this.#dialect.helpers[name]
    if (helper === undefined) throw new NoForm(`this needs ${name}, which has no form in ${this.#dialect.title}`)
    for (const other of helper.needs ?? []) this.#need(other)
    this.#helpers.add(name)
  }

  #helper(name: string): string {
    const helper = this.#dialect.helpers[name]
    if (helper === undefined) throw new ReferenceError(`no function ${name}`)
    return helper.create((one) => this.#named(one))
  }

  #constantsOf(values: readonly DefinedColumn[]): Map<number, Value> {
    const { types } = this.#dialect
    const found = new Map<number, Value>()
    for (const { id, name, type, expression } of values) {
      if (expression !== null) continue
      const value = this.#book.value(name)
      const none = sql`cast(null as ${types[type ?? 'text']})`
      if (typeof value === 'number') found.set(id, valueFrom(numberLiteral(value), { size: sizeOfNumber(value) }))
      else if (typeof value === 'boolean') found.set(id, valueFrom(sql`${String(value)}`))
      else if (typeof value === 'string')
        found.set(
          id,
          valueFrom(sql`cast(${textLiteral(type === 'datetime' ? value.replace('T', ' ') : value)} as ${types[type ?? 'text']})`),
        )
      else if (value === null) found.set(id, valueFrom(none, { size: sizeOfNumber(0) }))
      else found.set(id, valueFrom(none, { fault: sql`${FAULTS.indexOf(value.code) + 1}` }))
    }
    return found
  }

  #ofTable(model: ModelTerms, table: DefinedTable): View {
    const rows = model.table(table.name)
    const shown = table.columns.filter(({ id }) => this.#given?.hidden.has(id) !== true)
    const columns = shown.flatMap((column) =>
      this.#columns(rows, column, `${table.name}.${column.name}`, () => rows.column(column.id)),
    )
    return { name: table.name, rows, columns, where: null }
  }

  #ofTallies(model: ModelTerms, table: DefinedTable): View[] {
    if (table.tallies.length === 0) return []
    return [this.#ofSingles(model, `${table.name}!tallies`, `${table.name}.`, table.tallies)]
  }

  #ofValues(model: ModelTerms, values: readonly DefinedColumn[]): View[] {
    return values.length === 0 ? [] : [this.#ofSingles(model, 'book!values', '', values)]
  }

  #ofSingles(model: ModelTerms, name: string, before: string, singles: readonly DefinedColumn[]): View {
    const columns = singles.flatMap((column) =>
      this.#columns(model.book, column, `${before}${column.name}`, () => model.single(column.id, model.book.rows)),
    )
    return { name, rows: model.book, columns, where: null }
  }

  /** The rows that break a rule, with what tells them apart. */
  #ofRules(model: ModelTerms, table: DefinedTable): View[] {
    return table.rules.flatMap((rule) => {
      const rows = model.table(table.name)
      const condition = this.#attempt(model, rule, rule.name, () => {
        if (model.isLeftOut(rule.id)) throw new ReadsNoForm(rule.name)
        return rows.hidden(rule.expression as Checked, 'boolean')
      })
      if (condition === null) return []
      const shown = table.columns.flatMap((column) => this.#columnsOf(rows, column, () => rows.column(column.id)))
      return [{ name: `${rule.name}!violations`, rows, columns: shown, where: brokenBy(rows, condition, rule.blankIsWrong) }]
    })
  }

  /** The columns of a view that show a column, and a note of it where its last bits may differ. */
  #columns(rows: TableTerms, column: DefinedColumn, address: string, write: () => Value): ShownColumn[] {
    const value = this.#attempt(rows.model, column, address, write)
    if (value === null) return []
    const { id, formula } = column
    if (value.isApproximate) this.#approximate.push({ address, formula: formula ?? '', bound: this.#bounds.of(id) })
    return this.#columnsOf(rows, column, () => value)
  }

  #columnsOf(rows: TableTerms, column: DefinedColumn, write: () => Value): ShownColumn[] {
    try {
      return shownColumns(rows, column, write())
    } catch (error) {
      if (error instanceof NoForm) return []
      throw error
    }
  }

  #attempt(model: ModelTerms, column: DefinedColumn, address: string, write: () => Value): Value | null {
    try {
      return write()
    } catch (error) {
      if (!(error instanceof NoForm)) throw error
      const reason = model.refusalOf(column.id) ?? error
      // What it reads is told of in its own place.
      if (reason instanceof ReadsNoForm) {
        this.#leftOut.push(address)
        return null
      }
      this.#refused.push({ address, formula: column.formula ?? '', reason: reason.message })
      return null
    }
  }

  #view({ name, rows, columns, where }: View): string {
    const terms = [...columns.map(({ term }) => term), ...(where === null ? [] : [where])]
    const { text, nameOf } = statementOf(rows.rows, terms, this.#dialect)
    const list = columns.map(({ name: shown, term }) => `v.${nameOf(term)} as ${this.#dialect.quote(shown)}`)
    const filter = where === null ? '' : `\nwhere v.${nameOf(where)}`
    return withNames(`create view ${this.#named(name)} as\nselect ${list.join(', ')}\nfrom (\n${text}\n) as v${filter}`)
  }
}

/** True for the rows that break a rule. */
function brokenBy(rows: TableTerms, { value, fault }: Value, blankIsWrong: boolean): Term {
  const isBlank = sql`(${value} is null${fault === null ? fragment`` : fragment` and ${fault} is null`})`
  const isBroken = blankIsWrong ? sql`(not ${value} or ${isBlank})` : sql`(not ${value})`
  return rows.model.inRows(isBroken, rows.rows)
}
