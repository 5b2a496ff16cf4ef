import type { Database } from '../databases/index.js'
import { type KeptTable, type MovedRows, wasName } from '../kept/index.js'
import { countedAnew, countOf } from './temporary.js'

/**
 * What is stored of a table, while it is refreshed: beside it stand the rows that have changed since the refresh began, as they
 * were and as they are.
 */
export class StoredTable {
  readonly #database: Database
  readonly #kept: KeptTable
  /** What is stored, as it is named in a statement. */
  readonly #name: string
  readonly #was: string
  readonly #is: string
  #hasMoved = false

  constructor(database: Database, kept: KeptTable, nameOf: (name: string) => string) {
    const { quote } = database.dialect
    this.#database = database
    this.#kept = kept
    this.#name = nameOf(kept.name)
    this.#was = quote(`${kept.name}!was`)
    this.#is = quote(`${kept.name}!is`)
  }

  get name(): string {
    return this.#name
  }

  /** What has changed since the refresh began; null where nothing has. */
  get moved(): MovedRows | null {
    return this.#hasMoved ? { was: this.#was, is: this.#is } : null
  }

  /** Makes the tables of what has changed. */
  async open(): Promise<void> {
    for (const name of [this.#was, this.#is])
      await this.#database.run(`create temporary table ${name} as select * from ${this.#name} as k where false`)
  }

  async close(): Promise<void> {
    for (const name of [this.#was, this.#is]) await this.#database.run(`drop table ${name}`)
  }

  /** How many rows are stored. */
  count(): Promise<number> {
    return countOf(this.#database, `${this.#name} as k`)
  }

  /** The keys of rows under a name, as a list. */
  keys(alias: string): string {
    return this.#kept.key.map((name) => this.#column(alias, name)).join(', ')
  }

  /** True for the rows of which a table has the key. */
  isIn(alias: string, table: string): string {
    return `(${this.keys(alias)}) in (select ${this.keys('o')} from ${table} as o)`
  }

  /** A row of one table that is the row of another. */
  isSame(left: string, right: string): string {
    return this.#kept.key.map((name) => `${this.#column(left, name)} = ${this.#column(right, name)}`).join(' and ')
  }

  /** True for rows `n` in which something is another than it was. */
  differs(columns: readonly string[]): string {
    const tests = columns.map((name) => `${this.#column('n', name)} is distinct from ${this.#column('n', wasName(name))}`)
    return tests.join(' or ') || 'false'
  }

  /** Takes rows away that a table has. */
  async takeAway(gone: string): Promise<number> {
    const rows = await countOf(this.#database, `${gone} as g`)
    if (rows === 0) return 0
    await this.#noteAsWas(gone, [])
    await this.#database.run(`delete from ${this.#is} as k where ${this.isIn('k', gone)}`)
    await this.#database.run(`delete from ${this.#name} as k where ${this.isIn('k', gone)}`)
    await this.#haveMoved()
    return rows
  }

  /** Puts in rows that are not there yet. */
  async putIn(rows: string, columns: readonly string[]): Promise<number> {
    const added = await countOf(this.#database, `${rows} as n`)
    if (added === 0) return 0
    for (const into of [this.#name, this.#is]) await this.#insert(into, columns, columns, `${rows} as n`)
    await this.#haveMoved()
    return added
  }

  /** Changes columns of rows that are there; what they were stands beside them (`wasName`), with everything else that is stored. */
  async change(rows: string, columns: readonly string[]): Promise<number> {
    const changed = await countOf(this.#database, `${rows} as n`)
    if (changed === 0) return 0
    await this.#noteAsWas(rows, columns)
    const { columns: all } = this.#kept
    await this.#insert(this.#is, all, all, `${rows} as n where not ${this.isIn('n', this.#is)}`)
    const set = columns.map((name) => `${this.#database.dialect.quote(name)} = ${this.#column('n', name)}`).join(', ')
    for (const table of [this.#is, this.#name])
      await this.#database.run(`update ${table} as k set ${set} from ${rows} as n where ${this.isSame('k', 'n')}`)
    await this.#haveMoved()
    return changed
  }

  async #haveMoved(): Promise<void> {
    this.#hasMoved = true
    for (const name of [this.#was, this.#is]) await countedAnew(this.#database, name)
  }

  /** Notes what rows were that change for the first time, unless they came with this refresh. */
  async #noteAsWas(rows: string, changing: readonly string[]): Promise<void> {
    const { columns } = this.#kept
    const before = columns.map((name) => (changing.includes(name) ? wasName(name) : name))
    const isFirst = `not ${this.isIn('n', this.#is)} and not ${this.isIn('n', this.#was)}`
    await this.#insert(this.#was, columns, before, `${rows} as n where ${isFirst}`)
  }

  async #insert(into: string, columns: readonly string[], read: readonly string[], from: string): Promise<void> {
    const { quote } = this.#database.dialect
    const list = [...this.#kept.key, ...columns].map(quote).join(', ')
    const values = [...this.#kept.key, ...read].map((name) => this.#column('n', name)).join(', ')
    await this.#database.run(`insert into ${into} (${list}) select ${values} from ${from}`)
  }

  #column(alias: string, name: string): string {
    return `${alias}.${this.#database.dialect.quote(name)}`
  }
}
