import type { ValueType } from 'mellow-abacus'
import {
  type Checked,
  type CheckedRows,
  type DefinedColumn,
  type DefinedLink,
  type DefinedRing,
  type DefinedTable,
  type Definitions,
  identityOf,
} from 'mellow-abacus/model'
import { NoForm, ReadsNoForm } from '../dialects/index.js'
import { Aliases, literal, placeholder, sql, TableRows, type Term } from '../terms/index.js'
import {
  faultOfMissing,
  isWholeSize,
  strict,
  type Value,
  valueFrom,
  WHOLE,
  type Writing,
  withoutNegativeZero,
} from '../values/index.js'
import { FormulaWriter } from './formula.js'
import { keptValue } from './kept-values.js'
import { followLink } from './links.js'
import { orderedFunction } from './ordered.js'
import { aggregateOf } from './over-rows.js'
import type { ModelReading, Reading, SourceColumn, SourceOfTable, TableReading } from './reading.js'
import { ringValues } from './rings.js'

/** A table with its columns as terms. */
export class TableTerms implements TableReading {
  readonly definition: DefinedTable
  readonly rows: TableRows
  readonly source: SourceOfTable
  readonly model: ModelTerms
  readonly #values: Map<number, Value> = new Map()

  constructor(model: ModelTerms, definition: DefinedTable, source: SourceOfTable, rows: TableRows) {
    this.model = model
    this.definition = definition
    this.source = source
    this.rows = rows
  }

  /**
   * What tells the rows apart, in their order.
   *
   * @throws NoForm where nothing does
   */
  get rowKey(): readonly Term[] {
    if (this.source.rowKey.length === 0)
      throw new NoForm(`${this.definition.name} has no key, so its rows have no order and cannot be told apart`)
    return this.source.rowKey.map((text) => this.rows.read(text))
  }

  /** A column of the table. */
  column(id: number): Value {
    const known = this.#values.get(id)
    if (known !== undefined) return known
    const column = this.definition.columns.find((one) => one.id === id)
    if (column === undefined) throw new ReferenceError(`${this.definition.name} has no column ${id}`)
    const address = `${this.definition.name}.${column.name}`
    const { kept, made } = this.source
    if (kept?.columns.has(id) === true)
      return this.model.unlessRefused(id, address, () => this.#keep(id, column.name, keptValue(this.rows, kept, id)))
    const make = made?.get(id)
    if (make !== undefined) return this.model.unlessRefused(id, address, () => this.#keep(id, column.name, make(this)))
    if (column.expression === null || this.source.columns.has(id))
      return this.model.unlessRefused(id, address, () => this.#keep(id, column.name, this.#source(column)))
    const ring = this.definition.rings.find(({ order }) => order.includes(column.id))
    if (ring !== undefined) return this.#ofRing(ring, id, address)
    return this.model.unlessRefused(id, address, () => this.#keep(id, column.name, this.model.ofColumn(column, this)))
  }

  /** A column of a ring: all of them are calculated together. */
  #ofRing(ring: DefinedRing, id: number, address: string): Value {
    const columns = ring.order.map((one) => this.definition.columns.find((other) => other.id === one) as DefinedColumn)
    this.model.unlessRefused(id, address, () => {
      const values = ringValues(this, ring, columns)
      for (const column of columns) this.#keep(column.id, column.name, values.get(column.id) as Value)
    })
    return this.#values.get(id) as Value
  }

  #keep(id: number, name: string, value: Value): Value {
    const terms = { value: this.model.inRows(value.value, this.rows), fault: value.fault }
    if (terms.fault !== null) terms.fault = this.model.inRows(terms.fault, this.rows)
    this.rows.suggestName(terms.value, name)
    if (terms.fault !== null) this.rows.suggestName(terms.fault, `${name}!fault`)
    const kept = { ...value, ...terms }
    this.#values.set(id, kept)
    return kept
  }

  #source({ id }: DefinedColumn): Value {
    const source = this.source.columns.get(id)
    if (source === undefined) throw new NoForm(this.source.lacks.get(id) ?? `no source for column ${id}`)
    return this.#read(source)
  }

  #read({ value, fault, size, isApproximate = false }: SourceColumn): Value {
    return valueFrom(this.rows.read(value), { fault: fault === null ? null : this.rows.read(fault), size, isApproximate })
  }

  get everywhere(): TableReading {
    return this.source.isPart === true ? this.model.table(this.definition.name) : this
  }

  stored(identity: string): Value | null {
    const found = this.source.parts?.get(identity)
    return found === undefined ? null : this.#read(found)
  }

  /** An expression whose values stand beside the columns. */
  #storedPart(node: Checked): Value | null {
    return this.source.parts === undefined || node.kind === 'constant' ? null : this.stored(identityOf(node))
  }

  /** A column, named value or tally that is read where the rows are; null for one that is calculated. */
  readStored(id: number): Value | null {
    const { kept, columns } = this.source
    if (kept?.columns.has(id) === true) return keptValue(this.rows, kept, id)
    const source = columns.get(id)
    return source === undefined ? null : this.#read(source)
  }

  isFull(id: number): boolean {
    return this.source.columns.get(id)?.isFull === true
  }

  follow(links: readonly number[], read: Checked): Value {
    return this.along(links, (target) => target.hidden(read))
  }

  /** A value of the table that links lead to, at the row they lead to. */
  along(links: readonly number[], valueAt: (target: TableReading) => Value): Value {
    const [first, ...rest] = links
    if (first === undefined) return valueAt(this)
    const link = this.link(first)
    const target = this.model.table(link.to)
    return followLink(this, link, target, target.along(rest, valueAt))
  }

  /** A link of the table. */
  link(id: number): DefinedLink {
    const found = this.definition.links.find((one) => (one.id as number) === id)
    if (found === undefined) throw new ReferenceError(`${this.definition.name} has no link ${id}`)
    return found
  }

  single(id: number): Value {
    return this.model.single(id, this.rows)
  }

  outer(): Value {
    throw new ReferenceError('this row is read outside of a function of several rows')
  }

  days({ rows, read, where }: CheckedRows): Term {
    const from = this.model.table(rows.table)
    const day = sql`cast(${from.hidden(read).value} as date)`
    const condition = where === null ? null : from.hidden(where, 'boolean').value
    const terms = [from.hidden(read).value, ...(condition === null ? [] : [condition])]
    const rank = Math.max(...terms.map((term) => term.rank))
    const join = this.rows.join(`days ${from.rows.name} ${day.id} ${condition?.id ?? ''}`, (alias) => ({
      alias,
      rank: rank + 1,
      own: [],
      reads: [{ rows: from.rows, terms }],
      write: (places) => {
        const one = `cast(${places.read(terms[0] as Term)} as date)`
        const known = [`${one} is not null`, ...(condition === null ? [] : [places.read(condition)])].join(' and ')
        const { dialect } = this.model.writing
        return `cross join (select ${dialect.listOf(one)} as ${places.quote('days')} from ${places.from(from.rows)} as r where ${known}) as ${alias}`
      },
    }))
    return join({ name: 'days', reads: [], write: () => '' })
  }

  overRows(node: Checked & { kind: 'over-rows' }): Value {
    return this.#storedPart(node) ?? this.#calculated(node)
  }

  #calculated(node: Checked & { kind: 'over-rows' }): Value {
    return node.record.form === 'ordered' ? orderedFunction(this, node) : aggregateOf(this, node)
  }

  /** An expression as a column that has no name. */
  hidden(node: Checked, wanted?: ValueType): Value {
    const stored = this.#storedPart(node)
    if (stored !== null) return stored
    const value = withoutNegativeZero(new FormulaWriter(this.model.writing, this).write(node, wanted))
    return {
      ...value,
      value: this.model.inRows(value.value, this.rows),
      fault: value.fault === null ? null : this.model.inRows(value.fault, this.rows),
    }
  }
}

/** What the table of named values and tallies is called, which has one row. */
export const BOOK = ' book'

/** What that row is as a table. */
const THE_BOOK: DefinedTable = {
  name: BOOK,
  columns: [],
  rings: [],
  links: [],
  tallies: [],
  rules: [],
  key: null,
  source: null,
}

/** The one row that is read from nowhere. */
export const NOWHERE: SourceOfTable = {
  from: '',
  columns: new Map(),
  rowKey: [],
  storedKey: [],
  unique: [],
  lacks: new Map(),
  rowCount: 1,
}

/** All that a workbook defines, as terms. */
export class ModelTerms implements ModelReading {
  readonly definitions: Definitions
  readonly writing: Writing
  readonly #tables: Map<string, TableTerms> = new Map()
  readonly #singles: ReadonlyMap<number, DefinedColumn>
  readonly #constants: ReadonlyMap<number, Value>
  readonly #known: Map<number, Value> = new Map()
  readonly #names: Map<string, string> = new Map()
  readonly #leftOut: ReadonlySet<number>
  /** Why formulas have no form; null while they are written. */
  readonly #refusals: Map<number, NoForm | null> = new Map()
  #last = 0
  readonly #aliases = new Aliases()
  /** The one row that named values and tallies stand in. */
  readonly book: TableTerms

  /**
   * @param sourceOf - where the rows of a table are
   * @param constants - named values that have no formula, as they are written
   * @param leftOut - columns, tallies and named values that are left out, and with them what reads them
   * @param book - where the row of named values and tallies is, for those that are read there
   */
  constructor(
    definitions: Definitions,
    writing: Writing,
    sourceOf: (table: DefinedTable) => SourceOfTable,
    constants: ReadonlyMap<number, Value>,
    leftOut: ReadonlySet<number>,
    book: SourceOfTable | null = null,
  ) {
    this.#leftOut = leftOut
    this.definitions = definitions
    this.writing = writing
    this.#constants = constants
    for (const table of definitions.tables) {
      const source = sourceOf(table)
      this.#tables.set(table.name, new TableTerms(this, table, source, new TableRows(table.name, source.from, this.#aliases)))
    }
    const tallies = definitions.tables.flatMap((table) => table.tallies)
    this.#singles = new Map([...definitions.values, ...tallies].map((one) => [one.id, one]))
    const row = book ?? NOWHERE
    this.book = new TableTerms(this, THE_BOOK, row, new TableRows(BOOK, row.from === '' ? null : row.from, this.#aliases))
  }

  /** Some of the rows of a table, for which columns are calculated. */
  partOf(table: TableTerms, source: SourceOfTable): TableTerms {
    return new TableTerms(this, table.definition, source, new TableRows(`${table.rows.name}!`, source.from, this.#aliases))
  }

  /** True for what was asked to be left out. */
  isLeftOut(id: number): boolean {
    return this.#leftOut.has(id)
  }

  /** A number that no other part of the model has. */
  nextNumber(): number {
    return ++this.#last
  }

  /** A name for what has a long one, the same each time. */
  shortName(long: string): string {
    const name = this.#names.get(long) ?? placeholder('a', this.#names.size + 1)
    this.#names.set(long, name)
    return name
  }

  /** A table by its name. */
  table(name: string): TableTerms {
    const found = name === BOOK ? this.book : this.#tables.get(name)
    if (found === undefined) throw new ReferenceError(`no table ${name}`)
    return found
  }

  /** A named value or a tally, for rows of a table. */
  single(id: number, rows: TableRows): Value {
    const value = this.#single(id)
    if (rows === this.book.rows) return value
    if (value.value.isConstant) {
      const fault = value.fault === null ? null : this.inRows(literal(value.fault.text), rows)
      return { ...value, value: rows.constant(value.value.text), fault }
    }
    const { book } = this
    const rank = Math.max(value.value.rank, value.fault?.rank ?? 0)
    const join = rows.join(`book ${rank}`, (alias) => ({
      alias,
      rank: rank + 1,
      own: [],
      reads: [],
      write: (places) => `cross join ${places.from(book.rows)} as ${alias}`,
    }))
    const read = (term: Term): Term =>
      join({ name: book.rows.nameOf(term), reads: [{ rows: book.rows, terms: [term] }], write: () => '' })
    return { ...value, value: read(value.value), fault: value.fault === null ? null : read(value.fault) }
  }

  #single(id: number): Value {
    const known = this.#known.get(id) ?? this.#constants.get(id)
    if (known !== undefined) return known
    const stored = this.book.readStored(id)
    if (stored !== null) return stored
    const column = this.#singles.get(id)
    if (column === undefined) throw new ReferenceError(`no named value or tally ${id}`)
    return this.unlessRefused(id, column.name, () => {
      const value = this.calculatedSingle(id, this.book)
      this.#known.set(id, value)
      return value
    })
  }

  /** A named value or tally by its formula, in the row of them. */
  calculatedSingle(id: number, row: TableTerms): Value {
    const made = this.ofColumn(this.#singles.get(id) as DefinedColumn, row)
    const fault = made.fault === null ? null : this.inRows(made.fault, row.rows)
    return { ...made, value: this.inRows(made.value, row.rows), fault }
  }

  /** Why a formula has no form; undefined for one that has, or was never asked for. */
  refusalOf(id: number): NoForm | undefined {
    return this.#refusals.get(id) ?? undefined
  }

  /**
   * Writes a formula, once: whoever reads one that has no form is told no more than that.
   *
   * @throws ReadsNoForm
   */
  unlessRefused<Made>(id: number, address: string, write: () => Made): Made {
    const reads = new ReadsNoForm(`${address} has no form`)
    if (this.#leftOut.has(id)) throw reads
    if (this.#refusals.has(id)) throw reads
    this.#refusals.set(id, null)
    try {
      const made = write()
      this.#refusals.delete(id)
      return made
    } catch (error) {
      if (!(error instanceof NoForm)) throw error
      this.#refusals.set(id, error)
      throw reads
    }
  }

  /** What a formula of a column gives, as values of the column's type. */
  ofColumn({ expression, type }: DefinedColumn, reading: Reading): Value {
    const node = expression as Checked
    const value = withoutNegativeZero(new FormulaWriter(this.writing, reading).write(node, type ?? 'text'))
    if (type === 'datetime' && node.type === 'date') return { ...value, value: sql`cast(${value.value} as timestamp)` }
    if (type !== 'integer' || isWholeSize(value.size)) return value
    const fits = sql`${value.value} = floor(${value.value}) and abs(${value.value}) <= 9007199254740992`
    const whole = sql`case when ${fits} then ${value.value} end`
    return strict([value], whole, { size: WHOLE, own: faultOfMissing(whole, [value], 'misfit') })
  }

  /** A term as one of some rows, where it is the same everywhere. */
  inRows(term: Term, rows: TableRows): Term {
    return term.rows === null ? rows.constant(term.text) : term
  }
}
