import type { Definitions } from 'mellow-abacus/model'
import { type Dialect, NoForm } from '../dialects/index.js'
import {
  BOOK,
  type KeptColumn,
  type KeptRows,
  ModelTerms,
  type SourceColumn,
  type SourceOfTable,
  type TableTerms,
  withoutNamedSteps,
} from '../formulas/index.js'
import { statementOf, type Term, withNames } from '../terms/index.js'
import type { Value, Writing } from '../values/index.js'
import { type Closure, closureOf, type Stage, type StoredValue } from './closure.js'

/** What a value that is stored is called, and what is known of it. */
export interface StoredFacts extends KeptColumn {
  readonly value: StoredValue
}

/** A table that holds what is kept of another, with all that is read for it. */
export interface KeptTable {
  /** The table of the workbook. */
  readonly table: string
  /** What it is called in the schema. */
  readonly name: string
  /** Its columns that tell rows apart. */
  readonly key: readonly string[]
  /** All other columns of it. */
  readonly columns: readonly string[]
  readonly facts: readonly StoredFacts[]
  /** The statement that makes it from the rows as they are. */
  readonly statement: string
}

/** What a stage is calculated by. */
export interface KeptStage {
  readonly stage: Stage
  readonly facts: readonly StoredFacts[]
}

/** What a kept model is made from. */
export interface KeptOptions {
  readonly dialect: Dialect
  readonly writing: Writing
  /** Where the rows of tables are, read whatever they hold. */
  readonly sources: ReadonlyMap<string, SourceOfTable>
  readonly constants: ReadonlyMap<number, Value>
  /** A table of the schema as it is named in a statement. */
  readonly nameOf: (name: string) => string
  /** Further columns of the source that are stored, by the names they get. */
  readonly more: (table: string) => Readonly<Record<string, string>>
}

/** Columns that are kept: what is stored for them, and how it is calculated. */
export class KeptModel {
  readonly definitions: Definitions
  readonly closure: Closure
  readonly tables: ReadonlyMap<string, KeptTable>
  readonly stages: readonly KeptStage[]
  readonly #options: KeptOptions
  /** The model over what is stored. */
  readonly #stored: ModelTerms
  /** The model over the rows as they are. */
  readonly #live: ModelTerms
  readonly #columns: Map<string, Map<number, SourceColumn>> = new Map()
  readonly #parts: Map<string, Map<string, SourceColumn>> = new Map()
  readonly #sources: Map<string, SourceOfTable> = new Map()
  readonly #facts: Map<StoredValue, StoredFacts> = new Map()

  /**
   * @param asked - the columns, tallies and named values that are kept
   * @throws NoForm for a table whose rows cannot be told apart
   */
  constructor(given: Definitions, asked: readonly number[], options: KeptOptions) {
    const definitions = withoutNamedSteps(given)
    this.definitions = definitions
    this.#options = options
    this.closure = closureOf(definitions, asked)
    for (const table of this.closure.tables.keys()) this.#sources.set(table, this.#storedSource(table))
    this.#refuseLongNames()
    const { writing, sources, constants } = options
    const nowhere = (name: string): SourceOfTable => ({ ...(sources.get(name) as SourceOfTable), columns: new Map() })
    const book = this.#sources.get(BOOK) ?? null
    const storedAt = (name: string): SourceOfTable => this.#sources.get(name) ?? nowhere(name)
    this.#stored = new ModelTerms(definitions, writing, ({ name }) => storedAt(name), constants, new Set(), book)
    this.#live = new ModelTerms(definitions, writing, ({ name }) => sources.get(name) as SourceOfTable, constants, new Set())
    for (const value of [...this.closure.tables.values()].flat())
      if (value.of.kind === 'source') this.#register(value, this.#liveValue(value))
    this.stages = this.closure.stages.map((stage) => this.#stageOf(stage))
    this.tables = new Map([...this.closure.tables.keys()].map((table) => [table, this.#keptTable(table)]))
  }

  /** Names that the engine would cut off, with all that is put behind them while a refresh is at work. */
  #refuseLongNames(): void {
    const { mostNameBytes, title } = this.#options.dialect
    const refuse = (what: string, name: string): void => {
      if (new TextEncoder().encode(name).length > mostNameBytes)
        throw new NoForm(
          `the name of ${what} is too long to be kept in ${title}, which cuts names off after ${mostNameBytes} bytes.`,
        )
    }
    for (const [table, values] of this.closure.tables) {
      refuse(table, `${keptName(table)}!was`)
      for (const { name } of values) refuse(`${table}.${name}`, wasName(`${name}!fault`))
    }
  }

  /** Where a table finds the columns that are kept. */
  keptRows(table: string): KeptRows | null {
    const kept = this.tables.get(table)
    if (kept === undefined) return null
    const columns = new Map<number, KeptColumn>()
    for (const fact of kept.facts) if (fact.value.of.kind === 'column') columns.set(fact.value.of.column.id, fact)
    const own = table === BOOK ? [] : (this.#options.sources.get(table) as SourceOfTable).storedKey
    const key = own.map((read, index) => ({ read, of: kept.key[index] as string }))
    return { name: this.#options.nameOf(kept.name), key, columns }
  }

  /**
   * Selects what is read from the source, of some of its rows.
   *
   * @param from - what stands after `from`, under the name `s`
   */
  image(table: string, from: string): string {
    const source = this.#options.sources.get(table) as SourceOfTable
    const own = this.#live.partOf(this.#live.table(table), { ...source, from })
    const values = (this.closure.tables.get(table) ?? []).filter(({ of }) => of.kind === 'source')
    return this.#select(table, own, own.source.storedKey, values, (value) => calculated(own, value))
  }

  /**
   * Selects what a stage gives for some rows of what is stored, with everything else that is stored of them, and what the stage gave
   * before (`wasName`).
   *
   * @param from - what stands after `from`, under the name `s`
   */
  recalculated({ stage }: KeptStage, from: string): string {
    const own = this.#own(stage, from)
    const values = this.closure.tables.get(stage.table) ?? []
    const read = (value: StoredValue): Value =>
      stage.values.includes(value) ? calculated(own, value) : this.#storedIn(own, value)
    const names = this.#keyOf(stage.table).map((name) => `s.${this.#options.dialect.quote(name)}`)
    return this.#select(stage.table, own, names, values, read, stage.values)
  }

  /** Where the rows of a table are, read whatever they hold. */
  sourceOf(table: string): SourceOfTable | null {
    return this.#options.sources.get(table) ?? null
  }

  /** What is known of a value that is stored. */
  factsOf(value: StoredValue): StoredFacts {
    return this.#facts.get(value) as StoredFacts
  }

  #storedSource(table: string): SourceOfTable {
    const { dialect, sources, nameOf } = this.#options
    const columns = new Map<number, SourceColumn>()
    const parts = new Map<string, SourceColumn>()
    this.#columns.set(table, columns)
    this.#parts.set(table, parts)
    const live = sources.get(table)
    if (live !== undefined && live.storedKey.length === 0)
      throw new NoForm(`${table} has no key, so its rows cannot be told apart, and nothing of it can be kept`)
    const rowKey = this.#keyOf(table).map((name) => `s.${dialect.quote(name)}`)
    return {
      from: `${nameOf(keptName(table))} as s`,
      columns,
      parts,
      lacks: new Map(),
      rowKey,
      storedKey: rowKey,
      unique: live?.unique ?? [],
      rowCount: live?.rowCount ?? 1,
    }
  }

  #keyOf(table: string): readonly string[] {
    const count = table === BOOK ? 1 : (this.#options.sources.get(table) as SourceOfTable).storedKey.length
    return Array.from({ length: count }, (_, index) => keyName(index))
  }

  #own(stage: Stage, from: string | null): TableTerms {
    const general = this.#stored.table(stage.table)
    const source = this.#without(stage)
    return this.#stored.partOf(general, { ...source, from: from ?? source.from, isPart: !stage.isWhole })
  }

  /** What is stored of a table, without what a stage calculates. */
  #without({ table, values }: Stage): SourceOfTable {
    const source = this.#sources.get(table) as SourceOfTable
    const columns = new Map(source.columns)
    const parts = new Map(source.parts)
    for (const { of } of values) {
      if (of.kind === 'column') columns.delete(of.column.id)
      else if (of.kind !== 'source') parts.delete(of.identity)
    }
    return { ...source, columns, parts }
  }

  #stageOf(stage: Stage): KeptStage {
    const own = this.#own(stage, null)
    const facts = stage.values.map((value) => {
      const live = this.#liveValue(value)
      const here = calculated(own, value)
      return this.#register(value, { ...here, fault: here.fault ?? live.fault })
    })
    return { stage, facts }
  }

  #register(value: StoredValue, { fault, size, isApproximate }: Value): StoredFacts {
    const { table, name, of } = value
    const { quote } = this.#options.dialect
    const faultName = fault === null ? null : `${name}!fault`
    const facts = { value, name, fault: faultName, size, isApproximate }
    const isFull = of.kind === 'source' && this.#options.sources.get(table)?.columns.get(of.column.id)?.isFull === true
    const column: SourceColumn = {
      value: `s.${quote(name)}`,
      fault: faultName === null ? null : `cast(s.${quote(faultName)} as int)`,
      isFull,
      size,
      shown: null,
      isApproximate,
    }
    if (of.kind === 'source' || of.kind === 'column') this.#columns.get(table)?.set(of.column.id, column)
    else this.#parts.get(table)?.set(of.identity, column)
    this.#facts.set(value, facts)
    return facts
  }

  #liveValue(value: StoredValue): Value {
    return calculated(this.#live.table(value.table), value)
  }

  #storedIn(rows: TableTerms, { of }: StoredValue): Value {
    if (of.kind === 'part' || of.kind === 'hop') return rows.stored(of.identity) as Value
    return rows.readStored(of.column.id) as Value
  }

  #keptTable(table: string): KeptTable {
    const { nameOf, dialect } = this.#options
    const name = keptName(table)
    const key = this.#keyOf(table)
    const values = this.closure.tables.get(table) ?? []
    const rows = this.#live.table(table)
    const own = table === BOOK ? ['1'] : rows.source.storedKey
    const select = this.#select(table, rows, own, values, (value) => this.#liveValue(value))
    const facts = values.map((value) => this.factsOf(value))
    const columns = [...Object.keys(this.#options.more(table)), ...facts.flatMap(columnsOf)]
    return {
      table,
      name,
      key,
      columns,
      facts,
      statement: withNames(`create table ${nameOf(name)}${dialect.roomForChanges} as\n${select}`),
    }
  }

  /** Selects the key of rows and values that are stored, by the names that they are stored under. */
  #select(
    table: string,
    rows: TableTerms,
    own: readonly string[],
    values: readonly StoredValue[],
    read: (value: StoredValue) => Value,
    before: readonly StoredValue[] | null = null,
  ): string {
    const isStored = before !== null
    const { dialect } = this.#options
    const listed: { readonly name: string; readonly term: Term; readonly as: string | null }[] = []
    const add = (name: string, term: Term, as: string | null = null): void => {
      listed.push({ name, term: rows.model.inRows(term, rows.rows), as })
    }
    const keys = this.#keyOf(table)
    for (const [index, text] of own.entries())
      add(keys[index] as string, table === BOOK && !isStored ? rows.rows.constant(text) : rows.rows.read(text))
    for (const [name, text] of Object.entries(this.#options.more(table)))
      add(name, rows.rows.read(isStored ? `s.${dialect.quote(name)}` : text))
    for (const value of values) {
      const { name, fault: faultName } = this.factsOf(value)
      const { value: term, fault } = read(value)
      add(name, term)
      if (faultName !== null) add(faultName, fault ?? rows.rows.constant('null'), 'smallint')
    }
    for (const name of (before ?? []).flatMap((value) => columnsOf(this.factsOf(value))))
      add(wasName(name), rows.rows.read(`s.${dialect.quote(name)}`))
    const { text, nameOf } = statementOf(
      rows.rows,
      listed.map(({ term }) => term),
      dialect,
    )
    const list = listed.map(({ name, term, as }) => {
      const plain = `v.${nameOf(term)}`
      return `${as === null ? plain : `cast(${plain} as ${as})`} as ${dialect.quote(name)}`
    })
    return withNames(`select ${list.join(', ')}\nfrom (\n${text}\n) as v`)
  }
}

/** The columns that a value is stored in. */
export function columnsOf({ name, fault }: Pick<StoredFacts, 'name' | 'fault'>): string[] {
  return fault === null ? [name] : [name, fault]
}

/** The column that has what another had before. */
export function wasName(column: string): string {
  return `${column}!was`
}

/** What a table that holds what is kept of another is called. */
function keptName(table: string): string {
  return `${table === BOOK ? 'book' : table}!kept`
}

/** What a column of a key is called where rows are stored. */
function keyName(index: number): string {
  return `key!${index + 1}`
}

/** What a value is by its formula, or as its source has it. */
function calculated(rows: TableTerms, { of }: StoredValue): Value {
  switch (of.kind) {
    case 'source': {
      const reason = rows.source.lacks.get(of.column.id)
      if (reason !== undefined) throw new NoForm(`${rows.definition.name}.${of.column.name}: ${reason}.`)
      return rows.column(of.column.id)
    }
    case 'column':
      return rows.definition.name === BOOK ? rows.model.calculatedSingle(of.column.id, rows) : rows.column(of.column.id)
    case 'part':
      return rows.hidden(of.expression)
    case 'hop':
      return rows.along(of.links, (target) => target.column(of.column.id))
  }
}
