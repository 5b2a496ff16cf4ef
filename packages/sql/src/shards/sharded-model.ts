import type { SlimView, ValueType } from 'mellow-abacus'
import {
  type Checked,
  type DefinedColumn,
  type DefinedTable,
  type Definitions,
  definitionsOf,
  mapParts,
  partsOf,
} from 'mellow-abacus/model'
import { type Dialect, FAULTS, NoForm } from '../dialects/index.js'
import {
  BOOK,
  inputOf,
  type ModelTerms,
  needsOrder,
  type OverRows,
  type Parts,
  type SourceColumn,
  type SourceOfTable,
  withoutNamedSteps,
} from '../formulas/index.js'
import type { RelationFacts } from '../sources/index.js'
import { givenModelSql, type MakingStatement, type ModelSql, type RefusedFormula } from '../statements/index.js'
import { statementOf, type Term, withNames } from '../terms/index.js'
import type { Magnitude, Value } from '../values/index.js'
import { type PartialTotals, TwoSteps, tableOfTotals } from './partial-totals.js'
import { type Place, Placement } from './placement.js'
import type { ShardSettings } from './shard-settings.js'

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

/** A column of a view of the shards, as the coordinator reads it. */
interface RemoteColumn {
  readonly name: string
  readonly type: ValueType
  /** True for the code or the number of an error beside it. */
  readonly fault: 'code' | 'number' | null
}

/** What is known of a value that shards calculate. */
interface Known {
  readonly size: Magnitude
  readonly mayFail: boolean
  readonly isApproximate: boolean
  readonly isFull: boolean
}

/** The rows that an expression is of, and those that it is read for. */
interface ReadAt {
  readonly table: string
  readonly outer: string
}

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
  readonly #refused: RefusedFormula[] = []
  readonly #leftOut: Set<number>
  /** The formulas that read totals of shards, by the names of these. */
  readonly #readers: Map<string, RefusedFormula[]> = new Map()
  /** Columns of shards that the coordinator reads, as they were written. */
  readonly #known: Map<number, Known> = new Map()
  #shardTerms: ModelTerms | null = null

  constructor(book: SlimView, options: ShardedOptions) {
    this.#book = book
    this.#options = options
    this.#definitions = withoutNamedSteps(definitionsOf(book))
    this.#placement = new Placement(this.#definitions, options.settings)
    this.#steps = new TwoSteps(this.#placement, lastId(this.#definitions))
    this.#leftOut = withReaders(this.#definitions, this.#idsOf(options.leaveOut))
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
    return { placed: this.#placed(definitions), refused: unique, leftOut, shard, coordinator }
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
    const totals = this.#steps.all.map((one) => tableOfTotals(one, this.#placement))
    return { ...this.#definitions, tables: [...made, ...totals], values: singles }
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

  #placed({ tables, values }: Definitions): PlacedColumn[] {
    const placed = (one: DefinedColumn, address: string, table: string | null): PlacedColumn[] => {
      if (one.expression === null || this.#leftOut.has(one.id)) return []
      const place = this.#placement.of(one.id)
      const isSpread = table !== null && this.#placement.isSpread(table)
      if (totalsIn(one.expression).size > 0) return [{ address, place: 'in two steps' }]
      return [{ address, place: place === 'shard' && !isSpread ? 'coordinator' : place }]
    }
    return [
      ...tables.flatMap(({ name, columns, tallies }) => [
        ...columns.flatMap((one) => placed(one, `${name}.${one.name}`, name)),
        ...tallies.flatMap((one) => placed(one, `${name}.${one.name}`, null)),
      ]),
      ...values.flatMap((one) => placed(one, one.name, null)),
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
        definitions: { ...this.#definitions, tables: shownTables },
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
        return [{ kind: 'view', name: totals.name, text: this.#totalsView(terms, totals, named) } as const]
      } catch (error) {
        if (!(error instanceof NoForm)) throw error
        for (const reader of this.#readers.get(totals.name) ?? []) this.#refused.push({ ...reader, reason: error.message })
        return []
      }
    })
  }

  #totalsView(terms: ModelTerms, totals: PartialTotals, named: (name: string) => string): string {
    const { dialect } = this.#options
    const rows = terms.table(totals.table)
    const ordersOf = (node: OverRows): Parts['order'] =>
      node.order.map(({ key, descending }) => ({ key: rows.hidden(key), descending, isText: key.type === 'text' }))
    const inRows = (term: Term): Term => terms.inRows(term, rows.rows)
    const condition = totals.filter === null ? null : rows.hidden(totals.filter, 'boolean')
    const keys = totals.keys.map(({ expression }) => rows.hidden(expression))
    const inputs = totals.columns.map(({ id, node }) => {
      const values = node.args.map((arg) => rows.hidden(arg))
      const input = inputOf(
        terms.writing,
        node,
        { values, condition, order: ordersOf(node), rowKey: needsOrder(node) ? rows.rowKey : [] },
        inRows,
      )
      this.#known.set(id, {
        size: input.result.size,
        isApproximate: input.result.isApproximate,
        mayFail: input.mayFail,
        isFull: false,
      })
      return input
    })
    for (const [index, { id }] of totals.keys.entries())
      this.#known.set(id, { ...knownOf(keys[index] as Value), mayFail: false, isFull: false })
    const where = inputs[0]?.where ?? null
    const keyTerms = keys.map(({ value }) => inRows(value))
    const without = keys.flatMap(({ fault }) => (fault === null ? [] : [inRows(fault)]))
    const wanted = [...keyTerms, ...without, ...(where === null ? [] : [where]), ...inputs.flatMap((input) => input.terms)]
    const { text, nameOf } = statementOf(rows.rows, wanted.length === 0 ? [rows.rows.constant('1')] : wanted, dialect)
    const read = (term: Term): string => `v.${nameOf(term)}`
    const list = [
      ...keyTerms.map((term, index) => `${read(term)} as ${dialect.quote(totals.keys[index]?.name as string)}`),
      ...totals.columns.flatMap(({ name }, index) => {
        const input = inputs[index] as ReturnType<typeof inputOf>
        const value = `${input.write('value', read)} as ${dialect.quote(name)}`
        return input.mayFail ? [value, `${input.write('fault', read)} as ${dialect.quote(`${name}!fault`)}`] : [value]
      }),
    ]
    const filters = [...(where === null ? [] : [read(where)]), ...without.map((term) => `${read(term)} is null`)]
    const groups = keyTerms.length === 0 ? '' : `\ngroup by ${keyTerms.map(read).join(', ')}`
    return withNames(
      `create view ${named(totals.name)} as\nselect ${list.join(', ')}\nfrom (\n${text}\n) as v${filters.length === 0 ? '' : `\nwhere ${filters.join(' and ')}`}${groups}`,
    )
  }

  /** What the coordinator has: foreign tables of what shards show, and views of everything. */
  #coordinator(definitions: Definitions): ModelSql {
    const { dialect, schema } = this.#options
    const sources = new Map<string, SourceOfTable>()
    const remotes: MakingStatement[] = []
    for (const table of definitions.tables) {
      const totals = this.#steps.all.find(({ name }) => name === table.name)
      const columns = totals === undefined ? this.#columnsShown(table) : columnsOfTotals(table, this.#known)
      const name = `${table.name}!rows`
      const isSpread = totals !== undefined || this.#placement.isSpread(table.name)
      const parts = this.#remote(name, table.name, columns, isSpread)
      remotes.push(...parts)
      sources.set(table.name, this.#source(table, parts, columns))
    }
    const violations = this.#violations()
    return givenModelSql(
      this.#book,
      dialect,
      { schema },
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

  /** The columns that the view of a table has on the shards. */
  #columnsShown(table: DefinedTable): RemoteColumn[] {
    return table.columns.flatMap(({ id, name, type }): RemoteColumn[] => {
      const known = this.#known.get(id)
      if (known === undefined) return []
      const own = { name, type: type ?? 'text', fault: null }
      return known.mayFail ? [own, { name: `${name}!fault`, type: 'text', fault: 'code' }] : [own]
    })
  }

  /** Foreign tables of a view of the shards; of a table that is whole everywhere one shard does. */
  #remote(name: string, of: string, columns: readonly RemoteColumn[], isSpread: boolean): MakingStatement[] {
    const { dialect, shardSchema, settings } = this.#options
    const { quote, types } = dialect
    const list = columns
      .map((column) => `${quote(column.name)} ${column.fault === 'number' ? 'int' : types[column.type]}`)
      .join(', ')
    const shards = isSpread ? settings.shards : settings.shards.slice(0, 1)
    return shards.map(({ server }, index): MakingStatement => {
      const options = `schema_name ${literalOf(shardSchema)}, table_name ${literalOf(of)}, async_capable 'true', fetch_size '10000'`
      const part = `${name} ${index + 1}`
      const text = `create foreign table ${this.#named(part)} (${list}) server ${quote(server)} options (${options})`
      return { kind: 'foreign table', name: part, text }
    })
  }

  /** All rows of foreign tables. */
  #rowsOf(parts: readonly MakingStatement[]): string {
    return parts.map(({ name }) => `select * from ${this.#named(name)}`).join('\nunion all\n')
  }

  #named(name: string): string {
    const { dialect, schema } = this.#options
    return `${dialect.quote(schema)}.${dialect.quote(name)}`
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
        const parts = this.#remote(`${name}!rows`, `${name}!violations`, this.#columnsShown(table), true)
        const text = `create view ${this.#named(`${name}!violations`)} as\n${this.#rowsOf(parts)}`
        return [...parts, { kind: 'view', name: `${name}!violations`, text } as const]
      })
    })
  }

  #source(table: DefinedTable, parts: readonly MakingStatement[], columns: readonly RemoteColumn[]): SourceOfTable {
    const shown = new Set(columns.map((column) => column.name))
    const read = new Map<number, SourceColumn>()
    for (const column of table.columns) {
      const known = this.#known.get(column.id)
      if (known === undefined || !shown.has(column.name)) continue
      read.set(
        column.id,
        this.#sourceColumn(column, known, columns.find((one) => one.name === `${column.name}!fault`)?.fault ?? null),
      )
    }
    const isWhole = !this.#placement.isSpread(table.name) && this.#shardTerms !== null && table.source !== undefined
    const onShard =
      isWhole && this.#definitions.tables.some((one) => one.name === table.name)
        ? this.#shardTerms?.table(table.name).source
        : undefined
    const keys = (table.key ?? []).map((id) => read.get(id))
    const rowKey = keys.every((one) => one !== undefined) ? keys.map((one) => one.value) : []
    return {
      from: parts.length === 1 ? `${this.#named(parts[0]?.name as string)} as s` : `(${this.#rowsOf(parts)}) as s`,
      columns: read,
      lacks: new Map(
        table.columns.flatMap(({ id, name: called, expression }) =>
          expression === null && !read.has(id) ? [[id, `${called} is not there on the servers`] as const] : [],
        ),
      ),
      rowKey,
      storedKey: rowKey,
      unique: onShard?.unique ?? [],
      rowCount: onShard?.rowCount ?? 1_000_000,
    }
  }

  #sourceColumn(
    { name, type }: DefinedColumn,
    { size, isApproximate, isFull }: Known,
    fault: RemoteColumn['fault'],
  ): SourceColumn {
    const { quote } = this.#options.dialect
    const plain = `s.${quote(name)}`
    const code = `s.${quote(`${name}!fault`)}`
    const numbers = FAULTS.map((one, index) => `when '${one}' then ${index + 1}`).join(' ')
    return {
      value: type === 'integer' ? `cast(${plain} as float8)` : plain,
      fault: fault === null ? null : fault === 'number' ? code : `case ${code} ${numbers} end`,
      isFull,
      size,
      shown: type === 'integer' && fault === null ? plain : null,
      isApproximate,
    }
  }
}

/** Why a formula would bring all rows of a table to one place, and what can be done. */
function allRowsOf(table: string, why: string): NoForm {
  return new NoForm(
    `all rows of ${table} would be brought to one place: ${why}. Leave it out, or let them be brought: --gather ${table}`,
  )
}

/** The totals of shards that an expression reads, by name. */
function totalsIn(node: Checked, found: Set<string> = new Set()): ReadonlySet<string> {
  if (node.kind === 'over-rows' && node.rows.table.includes('!totals ')) found.add(node.rows.table)
  for (const part of partsOf(node)) totalsIn(part, found)
  return found
}

/** Formulas, and all that read them. */
function withReaders({ tables, values }: Definitions, ids: ReadonlySet<number>): Set<number> {
  const all = new Set(ids)
  if (all.size === 0) return all
  const links = new Map(tables.flatMap((table) => table.links.map((link) => [link.id as number, link] as const)))
  const reads = (node: Checked): boolean => {
    if ((node.kind === 'column' || node.kind === 'single') && all.has(node.column)) return true
    const path = node.kind === 'follow' ? node.links : node.kind === 'over-rows' ? node.rows.links : []
    const isThrough = path.some((id) => {
      const { columns = [], keys = [] } = links.get(id) ?? {}
      return [...columns, ...keys].some((one) => all.has(one))
    })
    return isThrough || partsOf(node).some(reads)
  }
  const formulas = [...values, ...tables.flatMap(({ columns, tallies, rules }) => [...columns, ...tallies, ...rules])]
  for (let before = -1; before < all.size; ) {
    before = all.size
    for (const { id, expression } of formulas) if (expression !== null && reads(expression)) all.add(id)
  }
  return all
}

function columnsOfTotals({ columns }: DefinedTable, known: ReadonlyMap<number, Known>): RemoteColumn[] {
  return columns.flatMap(({ id, name, type }): RemoteColumn[] => {
    const own = { name, type: type === 'integer' ? 'number' : (type ?? 'text'), fault: null } as const
    return known.get(id)?.mayFail === true ? [own, { name: `${name}!fault`, type: 'number', fault: 'number' }] : [own]
  })
}

function knownOf({ size, fault, isApproximate }: Value): Omit<Known, 'isFull'> {
  return { size, mayFail: fault !== null, isApproximate }
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

function literalOf(text: string): string {
  return `'${text.replaceAll("'", "''")}'`
}

/** The highest number that a column or a link has. */
function lastId({ tables, values }: Definitions): number {
  const all = [values, ...tables.flatMap(({ columns, tallies, rules, links }) => [columns, tallies, rules, links])]
  return Math.max(0, ...all.flatMap((list) => list.map(({ id }) => Number(id))))
}
