import { type Checked, type DefinedLink, identityOf, partsOf, readsOuter, splitCondition } from 'mellow-abacus/model'
import type { Dialect } from '../dialects/index.js'
import { amongText, BOOK, hopIdentity } from '../formulas/index.js'
import { atOwnRow, groupKeys, partKey, type StoredValue } from './closure.js'
import { columnsOf, type KeptModel, type KeptStage } from './kept-model.js'

/** Tables that a refresh notes in what has changed since it began: rows as they were, and as they are now. */
export interface MovedRows {
  readonly was: string
  readonly is: string
}

/** Where a refresh finds what it has noted. */
export interface DuePlaces {
  readonly dialect: Dialect
  /** A table of the schema as it is named in a statement. */
  readonly nameOf: (name: string) => string
  /** What has changed in a table; null where nothing has. */
  readonly movedIn: (table: string) => MovedRows | null
}

/** Columns that rows are found by. */
export interface LookedUp {
  readonly table: string
  readonly columns: readonly string[]
}

type OverRows = Checked & { kind: 'over-rows' }

/** What rows and the rows that they read have equal. */
interface Pairing {
  readonly own: readonly string[]
  readonly read: readonly string[]
  readonly blankIsKey: boolean
  /** True where an error may come of rows whose keys are not equal. */
  readonly isOpen: boolean
}

/** What a value has to be calculated again for. */
interface Found {
  /** Values of the own row that it reads. */
  readonly here: Set<StoredValue>
  /** Queries for the keys of rows. */
  readonly queries: string[]
}

/**
 * Finds the rows for which something has to be calculated again, by what has changed so far: each way by which a formula reads
 * becomes a query from the keys of changed rows to those of rows that read them. A row may be found that need not be, and none is
 * missed. (Incremental maintenance of views by what has changed: Gupta, Mumick, Subrahmanian, SIGMOD 1993.)
 */
export class DueRows {
  readonly #model: KeptModel
  readonly #places: DuePlaces
  readonly #links: Map<number, DefinedLink>
  readonly #lookups: Map<string, LookedUp> = new Map()

  constructor(model: KeptModel, places: DuePlaces) {
    const { tables } = model.definitions
    this.#model = model
    this.#places = places
    this.#links = new Map(tables.flatMap(({ links }) => links.map((link) => [link.id, link])))
  }

  /** The columns that rows were looked for by so far. */
  get lookups(): readonly LookedUp[] {
    return [...this.#lookups.values()]
  }

  /** The values of a stage, taken apart by the queries for the keys of their rows; those without such rows are left out. */
  partsOf(stage: KeptStage): { readonly keys: string; readonly part: KeptStage }[] {
    const { table, isWhole, values } = stage.stage
    const parts = new Map<string, StoredValue[]>()
    // What is calculated as a whole is due where a part of it is.
    for (const together of isWhole ? [values] : values.map((value) => [value])) {
      const keys = this.#keysOf(table, together)
      if (keys !== null) parts.set(keys, [...(parts.get(keys) ?? []), ...together])
    }
    return [...parts].map(([keys, some]) => ({
      keys: isWhole ? this.#all(table, keys) : keys,
      part: { stage: { ...stage.stage, values: some }, facts: some.map((value) => this.#model.factsOf(value)) },
    }))
  }

  #keysOf(table: string, values: readonly StoredValue[]): string | null {
    const found: Found = { here: new Set(), queries: [] }
    for (const value of values) this.#ofValue(value, found)
    for (const value of values) found.here.delete(value)
    return this.#together(table, found)
  }

  /** Selects the rows of a stage that are calculated again, from what is stored; `due` names a table of their keys. */
  rowsOf({ stage: { table, partition, isWhole } }: KeptStage, due: string): string {
    const kept = this.#kept(table)
    if (isWhole) return `${kept} as s`
    const isDue = this.#among(table, 'r', `select * from ${due}`)
    if (partition === null) return `(select r.* from ${kept} as r where ${isDue}) as s`
    const columns = this.#names(partition.flatMap((key) => this.#stored(table, key) ?? []))
    if (columns.length === 0) return `(select r.* from ${kept} as r where exists (select 1 from ${due})) as s`
    this.#note(table, columns)
    const groups = `(select ${this.#list(columns, 'r')} from ${kept} as r where ${isDue})`
    return `(${this.#rowsAmong(kept, groups, columns, columns, true)}) as s`
  }

  #ofValue({ table, of }: StoredValue, found: Found): void {
    if (of.kind === 'column') this.#visit(table, of.column.expression as Checked, found)
    else if (of.kind === 'part') this.#visit(table, of.expression, found, true)
    else if (of.kind === 'hop') this.#follow(table, of.links, found, (end) => this.#read(end.table, of.column.id, end.found))
  }

  #visit(table: string, node: Checked, found: Found, isItself = false): void {
    const part = isItself || node.kind === 'constant' || node.kind === 'column' ? null : this.#stored(table, node)
    if (part !== null) {
      found.here.add(part)
      return
    }
    switch (node.kind) {
      case 'column':
        return this.#read(table, node.column, found)
      case 'single': {
        const value = this.#model.closure.values.get(String(node.column))
        const keys = value === undefined ? null : this.#moved(BOOK, new Set([value]))
        if (keys !== null) found.queries.push(this.#all(table, keys))
        return
      }
      case 'follow':
        return this.#follow(table, node.links, found, (end) => this.#visit(end.table, node.read, end.found))
      case 'over-rows':
        return this.#overRows(table, node, found)
      default:
        if (node.kind === 'call' && node.holidays !== undefined) {
          const { rows, read, where } = node.holidays
          const keys = this.#rowsDue(rows.table, [read, ...(where === null ? [] : [where])])
          if (keys !== null) found.queries.push(this.#all(table, keys))
        }
        for (const one of partsOf(node)) this.#visit(table, one, found)
    }
  }

  #read(table: string, id: number, found: Found): void {
    const value = this.#model.closure.values.get(String(id))
    if (value === undefined) throw new ReferenceError(`column ${id} of ${table} is not stored`)
    found.here.add(value)
  }

  /** Rows that read at the end of links: those whose link changed, and those that lead to what changed. */
  #follow(
    table: string,
    links: readonly number[],
    found: Found,
    atEnd: (end: { readonly table: string; readonly found: Found }) => void,
  ): void {
    const [first, ...rest] = links
    if (first === undefined) return atEnd({ table, found })
    const link = this.#links.get(first) as DefinedLink
    for (const id of link.columns) this.#read(table, id, found)
    const there: Found = { here: new Set(), queries: [] }
    for (const id of link.keys) this.#read(link.to, id, there)
    this.#follow(link.to, rest, there, atEnd)
    const keys = this.#together(link.to, there)
    const [own, read] = [this.#ofIds(link.columns), this.#ofIds(link.keys)]
    this.#note(table, own)
    this.#note(link.to, read)
    if (keys !== null) found.queries.push(this.#back(table, own, link.to, read, keys, false))
  }

  /** Rows that read others: those of the groups, old and new, of rows that changed. */
  #overRows(table: string, node: OverRows, found: Found): void {
    const { rows } = node
    const there: Found = { here: new Set(), queries: [] }
    const visit = (part: Checked): void => {
      if (part.kind === 'outer') return this.#visit(table, part.inner, found)
      if (part.kind === 'over-rows' || !readsOuter(part)) return this.#visit(rows.table, part, there)
      for (const one of partsOf(part)) visit(one)
    }
    for (const part of partsOf(node)) visit(part)
    if (node.record.form === 'aggregate' && node.record.isShare === true)
      this.#visit(table, atOwnRow(node.args[0] as Checked), found)
    const { own, read, blankIsKey, isOpen } = this.#pairing(table, node, found, there)
    this.#note(table, own)
    this.#note(rows.table, read)
    const keys = this.#together(rows.table, there)
    if (keys === null) return
    found.queries.push(own.length === 0 ? this.#all(table, keys) : this.#back(table, own, rows.table, read, keys, blankIsKey))
    if (isOpen) found.queries.push(...this.#withoutKey(table, own, rows.table, read, keys))
  }

  /** What rows and the rows that they read have to have equal, at the least. */
  #pairing(table: string, node: OverRows, found: Found, there: Found): Pairing {
    const { rows } = node
    if (rows.which === 'linked' || rows.which === 'below')
      return { ...this.#belonging(table, node, found, there), blankIsKey: false, isOpen: false }
    const groups = groupKeys(node).flatMap((key) => this.#pair(table, key, rows.table, key, found, there))
    const equals = splitCondition(node.where).keys.flatMap(({ member, reader }) =>
      this.#pair(table, reader, rows.table, member, found, there),
    )
    const pairs = groups.length > 0 ? groups : equals
    return {
      own: pairs.map(({ own }) => own),
      read: pairs.map(({ read }) => read),
      blankIsKey: groups.length > 0,
      isOpen: groups.length === 0 && pairs.length > 0 && node.where?.mayFail === true,
    }
  }

  #pair(
    table: string,
    own: Checked,
    other: string,
    read: Checked,
    found: Found,
    there: Found,
  ): { readonly own: string; readonly read: string }[] {
    // The row of named values is read for as a whole.
    if (table === BOOK) return []
    const [ours, theirs] = [this.#stored(table, own), this.#stored(other, read)]
    if (ours !== null) found.here.add(ours)
    if (theirs !== null) there.here.add(theirs)
    return ours === null || theirs === null ? [] : [{ own: ours.name, read: theirs.name }]
  }

  /** Rows that belong to others by links: also those whose own key, or that of another row, has come to be the same. */
  #belonging(
    table: string,
    { rows }: OverRows,
    found: Found,
    there: Found,
  ): { readonly own: readonly string[]; readonly read: readonly string[] } {
    const last = this.#links.get(rows.links.at(-1) as number) as DefinedLink
    const before = rows.links.slice(0, -1)
    const values = last.columns.map((id) => {
      const key = before.length === 0 ? String(id) : partKey(rows.table, hopIdentity(before, id))
      return this.#model.closure.values.get(key) as StoredValue
    })
    for (const value of values) there.here.add(value)
    const ownKeys = new Set(last.keys.map((id) => this.#model.closure.values.get(String(id)) as StoredValue))
    for (const value of ownKeys) found.here.add(value)
    const own = this.#ofIds(last.keys)
    const twice = this.#moved(table, ownKeys)
    if (rows.which === 'below') {
      if (twice !== null) found.queries.push(this.#all(table, twice))
      return { own: [], read: [] }
    }
    if (twice !== null) found.queries.push(this.#back(table, own, table, own, twice, false))
    return { own, read: this.#names(values) }
  }

  /** The keys of rows for which some expressions have to be calculated again. */
  #rowsDue(table: string, nodes: readonly Checked[]): string | null {
    const found: Found = { here: new Set(), queries: [] }
    for (const node of nodes) this.#visit(table, node, found)
    return this.#together(table, found)
  }

  #together(table: string, { here, queries }: Found): string | null {
    const moved = this.#moved(table, here)
    const all = [...new Set([...(moved === null ? [] : [moved]), ...queries])]
    return all.length === 0 ? null : all.join('\nunion\n')
  }

  /** The keys of rows in which one of some values has changed, and of rows that are new or gone. */
  #moved(table: string, values: ReadonlySet<StoredValue>): string | null {
    const moved = this.#places.movedIn(table)
    if (moved === null) return null
    const { quote } = this.#places.dialect
    const key = this.#key(table)
    const list = key.map((name) => `coalesce(w.${quote(name)}, n.${quote(name)}) as ${quote(name)}`).join(', ')
    const on = key.map((name) => `w.${quote(name)} = n.${quote(name)}`).join(' and ')
    const [first] = key.map((name) => quote(name)) as [string]
    const columns = [...values].flatMap((value) => columnsOf(this.#model.factsOf(value)))
    const differs = columns.map((name) => ` or w.${quote(name)} is distinct from n.${quote(name)}`).join('')
    return `select ${list} from ${moved.was} as w full join ${moved.is} as n on ${on} where w.${first} is null or n.${first} is null${differs}`
  }

  /** The keys of all rows, where there are some of others. */
  #all(table: string, keys: string): string {
    return `select ${this.#list(this.#key(table), 'r')} from ${this.#kept(table)} as r where exists (select 1 from (${keys}) as d)`
  }

  /** The keys of rows that have what rows with some keys have, or had. */
  #back(
    table: string,
    own: readonly string[],
    other: string,
    read: readonly string[],
    keys: string,
    blankIsKey: boolean,
  ): string {
    const had = this.#places.movedIn(other)
    const places = [...(had === null ? [] : [had.was]), this.#kept(other)]
    const groups = places.map(
      (place) => `select ${this.#list(read, 'r')} from ${place} as r where ${this.#among(other, 'r', 'select * from d')}`,
    )
    const rows = this.#rowsAmong(this.#kept(table), 'g', own, read, blankIsKey)
    const text = `with d as (${keys}), g as (${groups.join(' union ')})\n${rows}`
    return `select ${this.#list(this.#key(table), 'r')} from (\n${text}\n) as r`
  }

  /**
   * The keys of rows that an error in the condition of other rows is an error of, although they are not equal to these: a blank key
   * decides nothing.
   */
  #withoutKey(table: string, own: readonly string[], other: string, read: readonly string[], keys: string): string[] {
    const { quote } = this.#places.dialect
    const isBlank = (names: readonly string[]): string => names.map((name) => `r.${quote(name)} is null`).join(' or ')
    const had = this.#places.movedIn(other)
    const places = [...(had === null ? [] : [had.was]), this.#kept(other)]
    const blank = places.map(
      (place) => `select 1 as one from ${place} as r where (${isBlank(read)}) and ${this.#among(other, 'r', keys)}`,
    )
    return [`${this.#all(table, keys)} and (${isBlank(own)})`, this.#all(table, blank.join(' union all '))]
  }

  #rowsAmong(rows: string, others: string, own: readonly string[], read: readonly string[], blankIsKey: boolean): string {
    const { quote, joinsBlanks } = this.#places.dialect
    const pairs = own.map((name, index): [string, string] => [`r.${quote(name)}`, `o.${quote(read[index] as string)}`])
    return amongText(rows, others, pairs, blankIsKey, joinsBlanks)
  }

  #among(table: string, alias: string, keys: string): string {
    return `(${this.#list(this.#key(table), alias)}) in (${keys})`
  }

  #list(names: readonly string[], alias: string): string {
    return names.map((name) => `${alias}.${this.#places.dialect.quote(name)}`).join(', ')
  }

  #kept(table: string): string {
    return this.#places.nameOf(this.#model.tables.get(table)?.name ?? '')
  }

  #key(table: string): readonly string[] {
    return this.#model.tables.get(table)?.key ?? []
  }

  #stored(table: string, node: Checked): StoredValue | null {
    const key = node.kind === 'column' ? String(node.column) : partKey(table, identityOf(node))
    return this.#model.closure.values.get(key) ?? null
  }

  #ofIds(ids: readonly number[]): readonly string[] {
    return this.#names(ids.map((id) => this.#model.closure.values.get(String(id)) as StoredValue))
  }

  #names(values: readonly StoredValue[]): string[] {
    return values.map(({ name }) => name)
  }

  #note(table: string, columns: readonly string[]): void {
    if (columns.length > 0) this.#lookups.set(`${table} ${columns.join(' ')}`, { table, columns })
  }
}
