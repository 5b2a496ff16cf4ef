import type { SlimView } from 'mellow-abacus'
import {
  type Checked,
  type DefinedColumn,
  type DefinedReport,
  type DefinedTable,
  type Definitions,
  definitionsOf,
  mapParts,
  partsOf,
} from 'mellow-abacus/model'
import { type Dialect, NoForm } from '../dialects/index.js'
import { BOOK, lastId, type ModelTerms, type SourceColumn, type SourceOfTable, withoutNamedSteps } from '../formulas/index.js'
import { isReportAddress, partedBy, reportNamed } from '../reports/index.js'
import type { RelationFacts } from '../sources/index.js'
import { givenModelSql, type MakingStatement, type ModelSql, type RefusedFormula } from '../statements/index.js'
import type { Value } from '../values/index.js'
import { readersOf, withReaders } from './left-out.js'
import { TwoSteps, tableOfTotals } from './partial-totals.js'
import { type Place, Placement } from './placement.js'
import { columnsOfTotals, columnsShown, type KnownValue, knownOf, type RemoteColumn, RemoteTables } from './remote-tables.js'
import { reportInSteps } from './report-in-steps.js'
import type { ShardSettings } from './shard-settings.js'
import { totalsView } from './totals-view.js'

/** Where a column, tally or named value is calculated. */
export interface PlacedColumn {
  readonly address: string
  readonly place: Place | 'in two steps'
}

/** A model over several servers. */
export interface ShardedModel {
  readonly placed: readonly PlacedColumn[]
  readonly refused: readonly RefusedFormula[]
  readonly leftOut: readonly string[]
  /** What each shard has. */
  readonly shard: ModelSql
  readonly coordinator: ModelSql
}

/** What a model over several servers is made with. */
export interface ShardedOptions {
  readonly dialect: Dialect
  readonly schema: string
  /** The schema on the shards. */
  readonly shardSchema: string
  readonly settings: ShardSettings
  /** What the shards say together of the relations that tables are attached to. */
  readonly relations: ReadonlyMap<string, RelationFacts>
  readonly leaveOut: readonly string[]
  /** Tables whose rows may all be brought to the coordinator. */
  readonly gather: readonly string[]
}

/** The rows that an expression is of, and those that it is read for. */
interface ReadAt {
  readonly table: string
  readonly outer: string
}

/** How many rows there are taken to be where no one has counted them. */
const MANY_ROWS = 1_000_000

/**
 * Takes a model apart into what each shard calculates of its rows and what the coordinator makes of that.
 *
 * @throws NoForm where the settings name something that there is not
 */
export function shardedModel(book: SlimView, options: ShardedOptions): ShardedModel {
  return new ShardedWriter(book, options).write()
}

class ShardedWriter {
  readonly #book: SlimView
  readonly #options: ShardedOptions
  readonly #definitions: Definitions
  readonly #placement: Placement
  readonly #steps: TwoSteps
  readonly #remotes: RemoteTables
  readonly #refused: RefusedFormula[] = []
  readonly #leftOut: Set<number>
  /** The addresses of reports that are left out. */
  readonly #reportsLeftOut: Set<string> = new Set()
  /** The formulas that read totals of shards, by the names of these. */
  readonly #readers: Map<string, RefusedFormula[]> = new Map()
  /** Columns of shards that the coordinator reads, as they were written. */
  readonly #known: Map<number, KnownValue> = new Map()
  #shardTerms: ModelTerms | null = null

  constructor(book: SlimView, options: ShardedOptions) {
    this.#book = book
    this.#options = options
    this.#definitions = withoutNamedSteps(definitionsOf(book))
    this.#placement = new Placement(this.#definitions, options.settings)
    this.#steps = new TwoSteps(this.#placement, lastId(this.#definitions))
    this.#remotes = new RemoteTables(options)
    const [formulas, reports] = partedBy(options.leaveOut, isReportAddress)
    for (const address of reports) this.#reportsLeftOut.add(`report:${reportNamed(this.#definitions, address).name}`)
    this.#leftOut = withReaders(this.#definitions, this.#idsOf(formulas))
    for (const name of options.gather)
      if (!this.#placement.isSpread(this.#tableCalled(name)))
        throw new NoForm(`${name} is whole on every server, so there is nothing to be gathered.`)
  }

  #tableCalled(name: string): string {
    const found = this.#definitions.tables.find((one) => one.name.toLowerCase() === name.toLowerCase())
    if (found === undefined) throw new NoForm(`the workbook has no table ${name}.`)
    return found.name
  }

  write(): ShardedModel {
    const definitions = this.#coordinated()
    const shard = this.#shard()
    const isRefused = this.#refused.length > 0 || shard.refused.length > 0
    const coordinator = isRefused ? shard : this.#coordinator(definitions)
    const refused = [...this.#refused, ...shard.refused, ...coordinator.refused]
    const unique = [...new Map(refused.map((one) => [one.address, one])).values()]
    const leftOut = [...new Set([...shard.leftOut, ...coordinator.leftOut])].filter((address) =>
      coordinator.leftOut.includes(address),
    )
    const withReports = [...leftOut, ...this.#reportsLeftOut]
    return { placed: this.#placed(definitions), refused: unique, leftOut: withReports, shard, coordinator }
  }

  /** The columns, tallies, named values and rules of some addresses. */
  #idsOf(addresses: readonly string[]): Set<number> {
    const known = new Map<string, number>()
    for (const { id, name } of this.#definitions.values) known.set(name.toLowerCase(), id)
    for (const { name: table, columns, tallies, rules } of this.#definitions.tables) {
      for (const { id, name } of [...columns, ...tallies]) known.set(`${table}.${name}`.toLowerCase(), id)
      for (const { id, name } of rules) known.set(name.toLowerCase(), id)
    }
    return new Set(
      addresses.map((address) => {
        const id = known.get(address.toLowerCase())
        if (id === undefined) throw new NoForm(`${address} is no formula of the workbook, so it cannot be left out.`)
        return id
      }),
    )
  }

  /** True for a table whose rows the coordinator may read. */
  #isGathered(table: string): boolean {
    return this.#options.gather.some((name) => name.toLowerCase() === table.toLowerCase())
  }

  /** What the coordinator calculates: formulas over what shards give. Those that it cannot have are refused. */
  #coordinated(): Definitions {
    const { tables, values } = this.#definitions
    const written = <One extends DefinedColumn>(one: One, address: string, table: DefinedTable | null): One => {
      if (one.expression === null || this.#leftOut.has(one.id)) return one
      const isSpread = table !== null && this.#placement.isSpread(table.name)
      if (this.#placement.of(one.id) === 'everywhere' || (isSpread && this.#placement.of(one.id) === 'shard')) return one
      try {
        if (isSpread && !this.#isGathered(table.name))
          throw allRowsOf(table.name, 'it reads more of them than a server has, and is wanted in each row')
        const expression = this.#inSteps(one.expression, { table: table?.name ?? BOOK, outer: BOOK })
        for (const totals of totalsIn(expression)) {
          const readers = this.#readers.get(totals) ?? []
          this.#readers.set(totals, [...readers, { address, formula: one.formula ?? '', reason: '' }])
        }
        return { ...one, expression }
      } catch (error) {
        if (!(error instanceof NoForm)) throw error
        this.#refused.push({ address, formula: one.formula ?? '', reason: error.message })
        this.#leftOut.add(one.id)
        return one
      }
    }
    const made = tables.map((table) => ({
      ...table,
      columns: table.columns.map((one) => written(one, `${table.name}.${one.name}`, table)),
      tallies: table.tallies.map((one) => written(one, `${table.name}.${one.name}`, null)),
      rules: table.rules.map((one) => written(one, one.name, table)),
    }))
    const singles = values.map((one) => written(one, one.name, null))
    const reports = this.#reports()
    const totals = this.#steps.all.map((one) => tableOfTotals(one, this.#placement))
    return { ...this.#definitions, tables: [...made, ...totals], values: singles, reports }
  }

  /** The reports as the coordinator makes them. */
  #reports(): DefinedReport[] {
    const isLeftOut = readersOf(this.#definitions, this.#leftOut)
    return this.#definitions.reports.flatMap((report) => {
      const address = `report:${report.name}`
      const { view } = report
      if (this.#reportsLeftOut.has(address)) return []
      if (view === null) return [report]
      const formulas = [...view.keys, ...view.tallies, ...view.lines].map(({ expression }) => expression as Checked)
      if ([...formulas, ...(view.where === null ? [] : [view.where])].some(isLeftOut)) {
        this.#reportsLeftOut.add(address)
        return []
      }
      try {
        const made = reportInSteps(report, view, {
          steps: this.#steps,
          placement: this.#placement,
          isApart: (table) => this.#isApart(table),
          inSteps: (node, table) => this.#inSteps(node, { table: table ?? BOOK, outer: BOOK }),
        })
        this.#note({ address, formula: '', reason: '' }, made)
        return [made]
      } catch (error) {
        if (!(error instanceof NoForm)) throw error
        this.#refused.push({ address, formula: '', reason: error.message })
        return []
      }
    })
  }

  /** Notes which totals a report reads, so that it can be told of when they have no form. */
  #note(reader: RefusedFormula, { table, view }: DefinedReport): void {
    const read = new Set([table, ...(view?.keys ?? []).map(({ sorted }) => sorted?.table ?? table)])
    for (const { expression } of view?.tallies ?? []) totalsIn(expression as Checked, read)
    for (const name of read) this.#readers.set(name, [...(this.#readers.get(name) ?? []), reader])
  }

  /** An expression in which what reads rows that are spread reads what the shards give of them. */
  #inSteps(node: Checked, at: ReadAt): Checked {
    const there = (table: string) => (part: Checked) => this.#inSteps(part, { table, outer: at.table })
    switch (node.kind) {
      case 'outer':
        return { ...node, inner: this.#inSteps(node.inner, { table: at.outer, outer: BOOK }) }
      case 'follow': {
        for (const id of node.links) {
          const { to } = this.#placement.link(id)
          if (this.#isApart(to)) throw allRowsOf(to, 'it follows a link to them')
        }
        return mapParts(node, there(this.#placement.link(node.links.at(-1) as number).to))
      }
      case 'over-rows': {
        const made = this.#placement.isSpread(node.rows.table) ? this.#steps.of(node, at.table) : null
        if (made !== null) return made
        if (this.#isApart(node.rows.table))
          throw allRowsOf(node.rows.table, `${node.record.name}() is not to be had from what each server gathers of them`)
        return mapParts(node, there(node.rows.table))
      }
      default:
        return mapParts(node, (part) => this.#inSteps(part, at))
    }
  }

  /** True for a table whose rows the coordinator does not read. */
  #isApart(table: string): boolean {
    return this.#placement.isSpread(table) && !this.#isGathered(table)
  }

  #placed({ tables, values, reports }: Definitions): PlacedColumn[] {
    const placed = (one: DefinedColumn, address: string, table: string | null): PlacedColumn[] => {
      if (one.expression === null || this.#leftOut.has(one.id)) return []
      const place = this.#placement.of(one.id)
      const isSpread = table !== null && this.#placement.isSpread(table)
      if (totalsIn(one.expression).size > 0) return [{ address, place: 'in two steps' }]
      return [{ address, place: place === 'shard' && !isSpread ? 'coordinator' : place }]
    }
    return [
      ...tables
        .filter(({ name }) => !isTotals(name))
        .flatMap(({ name, columns, tallies }) => [
          ...columns.flatMap((one) => placed(one, `${name}.${one.name}`, name)),
          ...tallies.flatMap((one) => placed(one, `${name}.${one.name}`, null)),
        ]),
      ...values.flatMap((one) => placed(one, one.name, null)),
      ...reports.map(({ name, table, view }): PlacedColumn => {
        const isInSteps = isTotals(table) || (view?.tallies ?? []).some((one) => totalsIn(one.expression as Checked).size > 0)
        return { address: `report:${name}`, place: isInSteps ? 'in two steps' : 'coordinator' }
      }),
    ]
  }

  /** What each shard has: all that it can calculate, and totals of its rows. */
  #shard(): ModelSql {
    const { dialect, shardSchema, relations } = this.#options
    const { tables, values } = this.#definitions
    const leftOut = new Set(this.#leftOut)
    const hidden = new Set<number>()
    for (const { name, columns, tallies, rules } of tables) {
      const isSpread = this.#placement.isSpread(name)
      for (const { id } of [...columns, ...rules]) {
        const place = this.#placement.of(id)
        if (place === 'coordinator') leftOut.add(id)
        // Of rows that are whole everywhere a server has what belongs to some of them only.
        else if (place === 'shard' && !isSpread) hidden.add(id)
      }
      for (const { id } of tallies) if (this.#placement.of(id) !== 'everywhere') leftOut.add(id)
    }
    for (const { id } of values) if (this.#placement.of(id) !== 'everywhere') leftOut.add(id)
    const shownTables = tables.map((table) => ({
      ...table,
      tallies: table.tallies.filter(({ id }) => !leftOut.has(id)),
      rules: table.rules.filter(({ id }) => !leftOut.has(id) && !hidden.has(id)),
    }))
    return givenModelSql(
      this.#book,
      dialect,
      { schema: shardSchema, relations },
      {
        definitions: { ...this.#definitions, tables: shownTables, reports: [] },
        sources: new Map(),
        leftOut,
        hidden,
        hiddenTables: new Set(),
        more: (terms, named) => this.#onShard(terms, named, leftOut, hidden),
      },
    )
  }

  /** Notes what shards calculate, and writes the totals of their rows. */
  #onShard(
    terms: ModelTerms,
    named: (name: string) => string,
    leftOut: ReadonlySet<number>,
    hidden: ReadonlySet<number>,
  ): MakingStatement[] {
    this.#shardTerms = terms
    for (const { name, columns } of this.#definitions.tables)
      for (const { id } of columns) {
        if (leftOut.has(id) || hidden.has(id)) continue
        const rows = terms.table(name)
        const value = valueOrNull(() => rows.column(id))
        if (value !== null) this.#known.set(id, { ...knownOf(value), isFull: rows.isFull(id) })
      }
    return this.#steps.all.flatMap((totals) => {
      try {
        const { text, known } = totalsView(terms, totals, this.#options.dialect, named)
        for (const [id, value] of known) this.#known.set(id, value)
        return [{ kind: 'view', name: totals.name, text } as const]
      } catch (error) {
        if (!(error instanceof NoForm)) throw error
        for (const reader of this.#readers.get(totals.name) ?? []) this.#refused.push({ ...reader, reason: error.message })
        return []
      }
    })
  }

  /** What the coordinator has: foreign tables of what shards show, and views of everything. */
  #coordinator(definitions: Definitions): ModelSql {
    const { dialect, schema, relations } = this.#options
    const sources = new Map<string, SourceOfTable>()
    const remotes: MakingStatement[] = []
    for (const table of definitions.tables) {
      const totals = this.#steps.all.find(({ name }) => name === table.name)
      const columns = totals === undefined ? columnsShown(table, this.#known) : columnsOfTotals(table, this.#known)
      const name = `${table.name}!rows`
      const isSpread = totals !== undefined || this.#placement.isSpread(table.name)
      const parts = this.#remotes.tables(name, table.name, columns, isSpread)
      remotes.push(...parts)
      sources.set(table.name, this.#source(table, parts, columns))
    }
    const violations = this.#violations()
    return givenModelSql(
      this.#book,
      dialect,
      { schema, relations },
      {
        definitions: { ...definitions, tables: definitions.tables.map((table) => this.#withRulesOfHere(table)) },
        sources,
        leftOut: this.#leftOut,
        hidden: new Set(),
        hiddenTables: new Set(this.#steps.all.map(({ name }) => name)),
        more: () => [...remotes, ...violations],
      },
    )
  }

  /** A table with the rules that shards do not look after. */
  #withRulesOfHere(table: DefinedTable): DefinedTable {
    if (!this.#placement.isSpread(table.name)) return table
    return { ...table, rules: table.rules.filter(({ id }) => this.#placement.of(id) === 'coordinator') }
  }

  /** The rows of the shards that break a rule. */
  #violations(): MakingStatement[] {
    return this.#definitions.tables.flatMap((table) => {
      if (!this.#placement.isSpread(table.name)) return []
      return table.rules.flatMap(({ id, name }) => {
        if (this.#leftOut.has(id) || this.#placement.of(id) === 'coordinator') return []
        const parts = this.#remotes.tables(`${name}!rows`, `${name}!violations`, columnsShown(table, this.#known), true)
        const text = `create view ${this.#remotes.named(`${name}!violations`)} as\n${this.#remotes.rowsOf(parts)}`
        return [...parts, { kind: 'view', name: `${name}!violations`, text } as const]
      })
    })
  }

  #source(table: DefinedTable, parts: readonly MakingStatement[], columns: readonly RemoteColumn[]): SourceOfTable {
    const read = new Map<number, SourceColumn>()
    for (const column of table.columns) {
      const known = this.#known.get(column.id)
      const fault = columns.find(({ name }) => name === `${column.name}!fault`)?.fault ?? null
      if (known !== undefined) read.set(column.id, this.#remotes.sourceColumn(column, known, fault))
    }
    const isOfWorkbook = this.#definitions.tables.some(({ name }) => name === table.name)
    // Of rows that are spread no shard knows how many there are, or which are alike.
    const whole = isOfWorkbook && !this.#placement.isSpread(table.name) ? this.#shardTerms?.table(table.name).source : undefined
    const keys = (table.key ?? []).map((id) => read.get(id))
    const rowKey = keys.every((one) => one !== undefined) ? keys.map((one) => one.value) : []
    const lacking = table.columns.filter(({ id, expression }) => expression === null && !read.has(id))
    return {
      from:
        parts.length === 1 ? `${this.#remotes.named(parts[0]?.name as string)} as s` : `(${this.#remotes.rowsOf(parts)}) as s`,
      columns: read,
      lacks: new Map(lacking.map(({ id, name }) => [id, `${name} is not there on the servers`])),
      rowKey,
      storedKey: rowKey,
      unique: whole?.unique ?? [],
      rowCount: whole?.rowCount ?? MANY_ROWS,
    }
  }
}

/** Why a formula would bring all rows of a table to one place, and what can be done. */
function allRowsOf(table: string, why: string): NoForm {
  return new NoForm(
    `all rows of ${table} would be brought to one place: ${why}. Leave it out, or let them be brought: --gather ${table}`,
  )
}

const isTotals = (table: string): boolean => table.includes('!totals ')

/** The totals of shards that an expression reads, by name. */
function totalsIn(node: Checked, found: Set<string> = new Set()): ReadonlySet<string> {
  if (node.kind === 'over-rows' && isTotals(node.rows.table)) found.add(node.rows.table)
  for (const part of partsOf(node)) totalsIn(part, found)
  return found
}

function valueOrNull(write: () => Value): Value | null {
  try {
    return write()
  } catch (error) {
    // Why it has no form is told where its view is written.
    if (error instanceof NoForm) return null
    throw error
  }
}
