import type { ValueType } from 'mellow-abacus'
import {
  type Checked,
  type DefinedColumn,
  type DefinedLink,
  type DefinedTable,
  type Definitions,
  partsOf,
  readsOuter,
  splitCondition,
} from 'mellow-abacus/model'
import { NoForm } from '../dialects/index.js'
import { BOOK, type OverRows } from '../formulas/index.js'
import type { ShardSettings } from './shard-settings.js'

/**
 * Where a value is calculated: `everywhere` alike, from what is whole on each server; on the `shard` that has the row, or, of a
 * table that is whole everywhere, the rows that belong to it; or on the `coordinator`, from what the shards give.
 */
export type Place = 'everywhere' | 'shard' | 'coordinator'

/** A place as it is reckoned with. */
interface Reach {
  readonly place: Place
  /** Of a value on the shard: the links by which rows that are spread belong to its row. */
  readonly along: ReadonlySet<number>
}

const NONE: ReadonlySet<number> = new Set()
const EVERYWHERE: Reach = { place: 'everywhere', along: NONE }
const HERE: Reach = { place: 'shard', along: NONE }
const COORDINATOR: Reach = { place: 'coordinator', along: NONE }

function farther(one: Reach, other: Reach): Reach {
  if (one.place === 'coordinator' || other.place === 'coordinator') return COORDINATOR
  if (one.place === 'everywhere') return other
  if (other.place === 'everywhere') return one
  return { place: 'shard', along: new Set([...one.along, ...other.along]) }
}

/** Where all values of a model are calculated. */
export class Placement {
  readonly #tables: ReadonlyMap<string, DefinedTable>
  readonly #links: ReadonlyMap<number, DefinedLink>
  readonly #homes: Map<number, { readonly table: string; readonly column: DefinedColumn }> = new Map()
  /** The columns by which rows are spread, by table. */
  readonly #keys: Map<string, readonly number[]> = new Map()
  readonly #known: Map<number, Reach> = new Map()

  /**
   * @param definitions - with named steps written out
   * @throws NoForm for a table or column that there is not
   */
  constructor({ tables, values }: Definitions, { tables: spread }: ShardSettings) {
    this.#tables = new Map(tables.map((table) => [table.name, table]))
    this.#links = new Map(tables.flatMap(({ links }) => links.map((link) => [link.id as number, link] as const)))
    for (const column of values) this.#homes.set(column.id, { table: BOOK, column })
    for (const { name, columns, tallies, rules } of tables) {
      for (const column of columns) this.#homes.set(column.id, { table: name, column })
      for (const column of tallies) this.#homes.set(column.id, { table: BOOK, column })
      for (const column of rules) this.#homes.set(column.id, { table: name, column })
    }
    for (const [name, columns] of Object.entries(spread)) {
      const table = tables.find((one) => one.name.toLowerCase() === name.toLowerCase())
      if (table === undefined) throw new NoForm(`the workbook has no table ${name}.`)
      if (table.source === null) throw new NoForm(`${table.name} is not attached, so its rows are whole on every server.`)
      const ids = columns.map((column) => {
        const found = table.columns.find((one) => one.name.toLowerCase() === column.toLowerCase() && one.expression === null)
        if (found === undefined) throw new NoForm(`${table.name} has no column ${column} of its source.`)
        return found.id as number
      })
      this.#keys.set(table.name, ids)
    }
  }

  /** True for a table whose rows are spread. */
  isSpread(table: string): boolean {
    return this.#keys.has(table)
  }

  /** Where a column, tally, named value or rule is calculated. */
  of(id: number): Place {
    return this.#reachOf(id).place
  }

  #reachOf(id: number): Reach {
    const known = this.#known.get(id)
    if (known !== undefined) return known
    const { table, column } = this.#homes.get(id) as { readonly table: string; readonly column: DefinedColumn }
    const own = this.isSpread(table) ? HERE : EVERYWHERE
    // Columns that read their own earlier rows are met again here, and are where their groups are.
    this.#known.set(id, own)
    const made = column.expression === null ? own : farther(own, this.reach(column.expression, table))
    this.#known.set(id, made)
    return made
  }

  /** Where an expression is calculated for the rows of a table. */
  reach(node: Checked, table: string): Reach {
    switch (node.kind) {
      case 'column':
      case 'single':
        return this.#reachOf(node.column)
      case 'follow':
        return this.#followed(node.links, table, (end) => this.reach(node.read, end))
      case 'over-rows':
        return this.#overRows(node, table)
      case 'outer':
        return this.reach(node.inner, table)
      default: {
        let reach = EVERYWHERE
        if (node.kind === 'call' && node.holidays !== undefined) {
          const { rows, read, where } = node.holidays
          for (const part of where === null ? [read] : [read, where]) reach = farther(reach, this.reach(part, rows.table))
          if (reach.place !== 'everywhere' || this.isSpread(rows.table)) return COORDINATOR
        }
        for (const part of partsOf(node)) reach = farther(reach, this.reach(part, table))
        return reach
      }
    }
  }

  #followed(links: readonly number[], table: string, at: (end: string) => Reach): Reach {
    const [first, ...rest] = links
    if (first === undefined) return at(table)
    const link = this.link(first)
    const columns = this.#together([...link.columns, ...link.keys])
    if (this.isSpread(link.to)) return COORDINATOR
    const end = this.#followed(rest, link.to, at)
    if (end.place !== 'shard') return farther(columns, end)
    // Of a row that is whole everywhere, what belongs to it is complete where the rows that lead to it are.
    const isOwn = this.isSpread(table) && [...end.along].every((id) => id === first)
    return isOwn ? farther(columns, HERE) : COORDINATOR
  }

  #together(ids: readonly number[]): Reach {
    return ids.map((id) => this.#reachOf(id)).reduce(farther, EVERYWHERE)
  }

  #overRows(node: OverRows, table: string): Reach {
    const { rows } = node
    const { there, here } = this.#inside(node, table)
    const all = farther(there, here)
    if (all.place === 'coordinator') return COORDINATOR
    if (!this.isSpread(rows.table)) return there.place === 'everywhere' ? all : COORDINATOR
    if (table === rows.table && rows.which === 'own') return this.#isPinned(node) ? HERE : COORDINATOR
    if (this.isSpread(table) || rows.which !== 'linked' || rows.links.length !== 1) return COORDINATOR
    const link = this.link(rows.links[0] as number)
    const isAlong = isSame(link.columns, this.#keys.get(rows.table) as readonly number[])
    return isAlong ? { place: 'shard', along: new Set([...here.along, link.id as number]) } : COORDINATOR
  }

  /** What a function of several rows reads of these, and of its own row. */
  #inside(node: OverRows, table: string): { readonly there: Reach; readonly here: Reach } {
    const { rows } = node
    let [there, here] = [EVERYWHERE, EVERYWHERE]
    const at = (part: Checked): void => {
      if (part.kind === 'outer') here = farther(here, this.reach(part.inner, table))
      else if (part.kind === 'over-rows' || !readsOuter(part)) there = farther(there, this.reach(part, rows.table))
      else for (const one of partsOf(part)) at(one)
    }
    for (const part of partsOf(node)) at(part)
    // The total that a value is a share of is of the rows; the value is of the own row.
    if (node.record.form === 'aggregate' && node.record.isShare === true) here = farther(here, there)
    for (const [place, id] of rows.links.entries()) {
      const link = this.link(id)
      there = farther(there, this.#together(link.columns))
      const isLast = place === rows.links.length - 1
      if (isLast) here = farther(here, this.#together(link.keys))
      else there = this.isSpread(link.to) ? COORDINATOR : farther(there, this.#together(link.keys))
    }
    return { there, here }
  }

  /** True where all rows that are read for a row are equal to it in the columns by which rows are spread. */
  #isPinned({ rows, by, where }: OverRows): boolean {
    const pinned = new Set<number>()
    for (const key of by) if (key.kind === 'column') pinned.add(key.column)
    for (const { member, reader } of splitCondition(where).keys)
      if (member.kind === 'column' && reader.kind === 'column' && reader.column === member.column) pinned.add(member.column)
    return (this.#keys.get(rows.table) as readonly number[]).every((id) => pinned.has(id))
  }

  /** The type of a column. */
  typeOf(id: number): ValueType | null {
    return this.#homes.get(id)?.column.type ?? null
  }

  /** A table by its name. */
  table(name: string): DefinedTable {
    return this.#tables.get(name) as DefinedTable
  }

  link(id: number): DefinedLink {
    return this.#links.get(id) as DefinedLink
  }
}

function isSame(one: readonly number[], other: readonly number[]): boolean {
  return one.length === other.length && one.every((id) => other.includes(id))
}
