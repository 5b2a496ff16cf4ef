import type { ValueType } from 'mellow-abacus'
import {
  type Checked,
  type DefinedColumn,
  type DefinedLink,
  type Definitions,
  identityOf,
  mapParts,
  partsOf,
  readsOuter,
  splitCondition,
} from 'mellow-abacus/model'
import { BOOK, hopIdentity } from '../formulas/index.js'

/** Something that is stored for each row of a table, since a kept column reads it or is it. */
export interface StoredValue {
  readonly table: string
  /** What it is called where it is stored. */
  readonly name: string
  readonly of:
    | { readonly kind: 'source'; readonly column: DefinedColumn }
    | { readonly kind: 'column'; readonly column: DefinedColumn }
    /** A part of a formula that others are told by: a key of a group, or what is calculated before the rest. */
    | { readonly kind: 'part'; readonly expression: Checked; readonly identity: string }
    /** A column at the end of links, by which rows belong to others. */
    | { readonly kind: 'hop'; readonly links: readonly number[]; readonly column: DefinedColumn; readonly identity: string }
  readonly type: ValueType | null
  /** 0 for what is read from the source; otherwise one more than that of all that it reads. */
  readonly level: number
}

/** Values of one table that do not read each other, and may be calculated together. */
export interface Stage {
  readonly table: string
  readonly values: readonly StoredValue[]
  /** The groups that have to be calculated as a whole; null where each row can be by itself. */
  readonly partition: readonly Checked[] | null
  /** True where all rows have to be. */
  readonly isWhole: boolean
}

/** What is stored so that columns can be kept: they, and everything that they read. */
export interface Closure {
  /** By the id of the column, or by the table and what the part is (`partKey`). */
  readonly values: ReadonlyMap<string, StoredValue>
  readonly tables: ReadonlyMap<string, readonly StoredValue[]>
  /** In the order in which they are calculated. */
  readonly stages: readonly Stage[]
}

type OverRows = Checked & { kind: 'over-rows' }

/** How a formula is walked. */
interface Walk {
  /** The table whose row an expression is of. */
  readonly table: string
  /** True inside of what reads other rows: functions of several rows in there are values of their own. */
  readonly isInside: boolean
  readonly reads: StoredValue[]
}

/**
 * What has to be stored for columns to be kept.
 *
 * @param definitions - with named steps written out
 * @param asked - the columns, tallies and named values
 */
export function closureOf(definitions: Definitions, asked: readonly number[]): Closure {
  // What is a value of its own for one formula is read as such by all others too, so parts have to be known before levels are.
  const { values } = new ClosureOfColumns(definitions, asked, new Set()).closure
  return new ClosureOfColumns(definitions, asked, new Set(values.keys())).closure
}

/** By what a part of a formula is found. */
export function partKey(table: string, identity: string): string {
  return `${table} ${identity}`
}

class ClosureOfColumns {
  readonly #definitions: Definitions
  readonly #known: ReadonlySet<string>
  readonly #homes: Map<number, { readonly table: string; readonly column: DefinedColumn }> = new Map()
  readonly #links: Map<number, DefinedLink> = new Map()
  readonly #values: Map<string, StoredValue> = new Map()
  readonly #tables: Map<string, StoredValue[]> = new Map()
  readonly #stages: Map<string, { readonly level: number; readonly stage: Stage; readonly values: StoredValue[] }> = new Map()

  /** @param known - what is a value of its own, as far as it is known */
  constructor(definitions: Definitions, asked: readonly number[], known: ReadonlySet<string>) {
    this.#definitions = definitions
    this.#known = known
    const hold = (table: string, columns: readonly DefinedColumn[]): void => {
      for (const column of columns) this.#homes.set(column.id, { table, column })
    }
    hold(BOOK, definitions.values)
    for (const { name, columns, tallies, links } of definitions.tables) {
      hold(name, columns)
      hold(BOOK, tallies)
      for (const link of links) this.#links.set(link.id, link)
    }
    for (const id of asked) this.#column(id)
  }

  get closure(): Closure {
    const stages = [...this.#stages.values()].sort((a, b) => a.level - b.level)
    return { values: this.#values, tables: this.#tables, stages: stages.map(({ stage, values }) => ({ ...stage, values })) }
  }

  /** A column, tally or named value; null for a named value that is written out. */
  #column(id: number): StoredValue | null {
    const known = this.#values.get(String(id))
    if (known !== undefined) return known
    const home = this.#homes.get(id)
    if (home === undefined) throw new ReferenceError(`no column ${id}`)
    const { table, column } = home
    if (column.expression === null) {
      if (table === BOOK) return null
      return this.#keep(String(id), { table, name: column.name, of: { kind: 'source', column }, type: column.type }, null)
    }
    const ring = this.#definitions.tables.find(({ name }) => name === table)?.rings.find(({ order }) => order.includes(column.id))
    if (ring !== undefined) return this.#ring(table, ring.order, id)
    const name = table === BOOK ? this.#singleName(column) : column.name
    return this.#formula(String(id), { table, name, of: { kind: 'column', column }, type: column.type }, column.expression)
  }

  /** Tallies of several tables may be called the same. */
  #singleName({ id, name }: DefinedColumn): string {
    const table = this.#definitions.tables.find(({ tallies }) => tallies.some((one) => one.id === id))
    return table === undefined ? name : `${table.name}.${name}`
  }

  /** Columns that read each other's earlier rows: all of them at once, for all rows. */
  #ring(table: string, order: readonly number[], asked: number): StoredValue {
    const columns = order.map((id) => this.#homes.get(id)?.column as DefinedColumn)
    const outside: StoredValue[] = []
    const walk = { table, isInside: true, reads: outside }
    const visit = (node: Checked): void => {
      if (node.kind === 'column' && order.includes(node.column)) return
      if (this.#isKnown(table, node)) return this.#walk(node, walk)
      if (node.kind === 'over-rows' && node.record.form === 'ordered') for (const part of partsOf(node)) visit(part)
      else if (node.kind === 'over-rows' || node.kind === 'follow' || partsOf(node).length === 0) this.#walk(node, walk)
      else for (const part of partsOf(node)) visit(part)
    }
    for (const { expression } of columns) visit(expression as Checked)
    for (const column of columns) {
      const value = { table, name: column.name, of: { kind: 'column', column } as const, type: column.type }
      this.#keep(String(column.id), value, { reads: outside, window: `ring ${order.join(' ')}`, partition: null, isWhole: true })
    }
    return this.#values.get(String(asked)) as StoredValue
  }

  /** A part of a formula as a value of its own. */
  #part(table: string, expression: Checked): StoredValue | null {
    if (expression.kind === 'column') return this.#column(expression.column)
    if (expression.kind === 'constant') return null
    const identity = identityOf(expression)
    const key = partKey(table, identity)
    const known = this.#values.get(key)
    if (known !== undefined) return known
    const type = expression.type === 'blank' || expression.type === 'unknown' ? null : expression.type
    const value = { table, name: this.#partName(table), of: { kind: 'part', expression, identity } as const, type }
    return this.#formula(key, value, expression)
  }

  #partName(table: string): string {
    const parts = (this.#tables.get(table) ?? []).filter(({ of }) => of.kind === 'part' || of.kind === 'hop')
    return `part!${parts.length + 1}`
  }

  /** What of a row at the end of links rows are told to belong to another by. */
  #hop(table: string, links: readonly number[], id: number): StoredValue | null {
    const identity = hopIdentity(links, id)
    const key = partKey(table, identity)
    const known = this.#values.get(key)
    if (known !== undefined) return known
    const { column } = this.#homes.get(id) as { readonly column: DefinedColumn }
    const reads: StoredValue[] = []
    const end = this.#alongLinks(links, { table, isInside: true, reads })
    this.#note(this.#column(id), { ...end, reads })
    const of = { kind: 'hop', links, column, identity } as const
    return this.#keep(key, { table, name: this.#partName(table), of, type: column.type }, plainly(reads))
  }

  #formula(key: string, value: Omit<StoredValue, 'level'>, expression: Checked): StoredValue {
    const { table } = value
    const windows = windowsOf(expression)
    const lists = new Set(windows.map(({ by }) => by.map(identityOf).join(' ')))
    const isOne = lists.size === 1
    const reads: StoredValue[] = []
    const walk = { table, isInside: false, reads }
    // Windows through other groups than those of the rest are values of their own.
    const hoisted = isOne ? [] : windows
    for (const one of hoisted) this.#note(this.#part(table, one), walk)
    this.#walk(expression, walk, new Set(hoisted), key === partKey(table, identityOf(expression)))
    if (!isOne) return this.#keep(key, value, plainly(reads))
    const partition = (windows[0] as OverRows).by
    return this.#keep(key, value, { reads, window: `window ${[...lists]}`, partition, isWhole: false })
  }

  #keep(
    key: string,
    value: Omit<StoredValue, 'level'>,
    calculated: {
      readonly reads: readonly StoredValue[]
      readonly window: string
      readonly partition: readonly Checked[] | null
      readonly isWhole: boolean
    } | null,
  ): StoredValue {
    const { table } = value
    let made: StoredValue
    if (calculated === null) made = { ...value, level: 0 }
    else {
      const { reads, window, partition, isWhole } = calculated
      const level = reads.reduce((most, read) => Math.max(most, read.level), 0) + 1
      const stage = `${level} ${table} ${window}`
      made = { ...value, level }
      const found = this.#stages.get(stage) ?? { level, stage: { table, values: [], partition, isWhole }, values: [] }
      found.values.push(made)
      this.#stages.set(stage, found)
    }
    this.#values.set(key, made)
    this.#tables.set(table, [...(this.#tables.get(table) ?? []), made])
    return made
  }

  #note(value: StoredValue | null, { reads }: Pick<Walk, 'reads'>): void {
    if (value !== null) reads.push(value)
  }

  #isKnown(table: string, node: Checked): boolean {
    return node.kind !== 'column' && node.kind !== 'constant' && this.#known.has(partKey(table, identityOf(node)))
  }

  /** @param isItself - whether it is the value that is looked at, which does not read itself */
  #walk(node: Checked, walk: Walk, hoisted: ReadonlySet<Checked> = new Set(), isItself = false): void {
    if (hoisted.has(node)) return
    if (!isItself && this.#isKnown(walk.table, node)) return this.#note(this.#part(walk.table, node), walk)
    switch (node.kind) {
      case 'column':
        return this.#note(this.#column(node.column), walk)
      case 'single':
        return this.#note(this.#column(node.column), walk)
      case 'follow':
        return this.#walk(node.read, this.#alongLinks(node.links, walk))
      case 'over-rows':
        if (walk.isInside) return this.#note(this.#part(walk.table, node), walk)
        return this.#overRows(node, walk)
      default:
        if (node.kind === 'call' && node.holidays !== undefined) {
          const { rows, read, where } = node.holidays
          const there = { ...walk, table: rows.table, isInside: true }
          this.#walk(read, there)
          if (where !== null) this.#walk(where, there)
        }
        for (const part of partsOf(node)) this.#walk(part, walk, hoisted)
    }
  }

  /** Notes what links are followed by, and says how it goes on at their end. */
  #alongLinks(links: readonly number[], walk: Walk): Walk {
    let at = { ...walk, isInside: true }
    for (const id of links) {
      const link = this.#links.get(id) as DefinedLink
      for (const column of link.columns) this.#note(this.#column(column), at)
      at = { ...at, table: link.to }
      for (const column of link.keys) this.#note(this.#column(column), at)
    }
    return at
  }

  #overRows(node: OverRows, walk: Walk): void {
    const there = { ...walk, table: node.rows.table, isInside: true }
    const here = { ...walk, isInside: true }
    const inside = (part: Checked): void => {
      if (part.kind === 'outer') return this.#walk(part.inner, here)
      if (part.kind === 'over-rows' || !readsOuter(part)) return this.#walk(part, there)
      for (const one of partsOf(part)) inside(one)
    }
    for (const part of partsOf(node)) inside(part)
    if (node.record.form === 'aggregate' && node.record.isShare === true) this.#walk(atOwnRow(node.args[0] as Checked), here)
    for (const key of groupKeys(node)) {
      this.#note(this.#part(there.table, key), there)
      this.#note(this.#part(there.table, key), here)
    }
    for (const { member, reader } of splitCondition(node.where).keys) {
      this.#note(this.#part(there.table, member), there)
      this.#note(this.#part(walk.table, reader), here)
    }
    this.#belonging(node, there, here)
  }

  /** Notes what rows read belong to a row by. */
  #belonging({ rows }: OverRows, there: Walk, here: Walk): void {
    if (rows.which !== 'linked' && rows.which !== 'below') return
    const before = rows.links.slice(0, -1)
    const end = this.#alongLinks(rows.links, there)
    const last = this.#links.get(rows.links.at(-1) as number) as DefinedLink
    for (const column of last.keys) {
      this.#note(this.#column(column), here)
      this.#note(this.#column(column), end)
    }
    for (const column of last.columns)
      this.#note(before.length === 0 ? this.#column(column) : this.#hop(there.table, before, column), there)
  }
}

/** The keys of the groups that rows are read by: those of the row read, and of the own row. */
export function groupKeys(node: OverRows): readonly Checked[] {
  return node.by.filter((key) => !readsOuter(key))
}

/** An expression over rows with everything read at the own row. */
export function atOwnRow(part: Checked): Checked {
  return part.kind === 'outer' ? part.inner : mapParts(part, atOwnRow)
}

/** Functions of neighbours that an expression calls for its own row. */
function windowsOf(node: Checked): OverRows[] {
  if (node.kind === 'over-rows') return node.record.form === 'ordered' ? [node] : []
  if (node.kind === 'follow') return []
  return partsOf(node).flatMap(windowsOf)
}

/** A value that needs no other rows of its table to be calculated. */
function plainly(reads: readonly StoredValue[]) {
  return { reads, window: '', partition: null, isWhole: false }
}
