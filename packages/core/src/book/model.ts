import type { Engine } from '../engine/index.js'
import { TableStore } from '../engine/index.js'
import { nearestName, refusal } from '../findings/index.js'
import type { CheckedFormula, ColumnId, LinkId, Scope } from '../formula/index.js'
import { foldName, printName, type ValueType } from '../values/index.js'
import type { Acceptance } from './acceptance.js'
import { type EnsureBound, scopeOf } from './scope-of.js'

/** What a reader sees of a column besides its values; none of it changes a stored value. */
export interface ColumnProperties {
  readonly unit?: string
  readonly symbol?: string
  readonly display?: string
  readonly decimals?: number
  readonly heading?: string
  readonly note?: string
  readonly tags?: readonly string[]
  /** The texts that the column is meant to hold. */
  readonly choices?: readonly string[]
  readonly hidden?: boolean
  /** The column of the table whose values say in which order those of this one stand. */
  readonly orderKey?: ColumnId
  /** When the cells of a stamp are written; they are never typed. */
  readonly stamp?: Stamp
  /** Of a rule: what breaking it is, and whether a blank condition breaks it. */
  readonly severity?: 'warning' | 'hint'
  readonly blankIsWrong?: boolean
}

/** What a stamp records, and when. */
export interface Stamp {
  /** The source columns it watches. */
  readonly when: readonly ColumnId[]
  /** Whether the first time one of them is filled counts, or every change. */
  readonly on: 'first-fill' | 'each-change'
  readonly content: 'time' | 'author'
}

/** What is known of a table besides its columns. */
export interface TableProperties {
  /** The column that names a row for its reader. */
  label: ColumnId | null
  /** The columns by which rows are found again when their source is read again. */
  key: readonly ColumnId[] | null
  /** The column that holds the key of a row's parent, for an outline. */
  parent: ColumnId | null
  /** Where the rows were read from. */
  source: {
    readonly file: string
    readonly options: Readonly<Record<string, unknown>>
    /** The columns that the file had; all source columns where that is not known. */
    readonly columns?: readonly ColumnId[]
  } | null
}

/** A formula of a column: its text, and what checking made of it once it is bound. */
export interface ColumnFormula {
  text: string
  checked: CheckedFormula | null
}

/** What a paused column goes back to when it is resumed. */
export interface PausedFormula {
  readonly formula: ColumnFormula
  /** Whether its type was declared. */
  readonly declared: boolean
  /** Ids of the rows typed over by hand since; some may be gone. */
  readonly typed: Set<number>
}

/** The formula of a column, whether it calculates now or is put aside; null for a source column. */
export function formulaOf(column: ColumnModel): ColumnFormula | null {
  return column.formula ?? column.paused?.formula ?? null
}

/** A column of the model. */
export interface ColumnModel {
  readonly id: ColumnId
  name: string
  /** The type it was declared with, or that its first values or its formula gave it; null while there is neither. */
  type: ValueType | null
  /** True when the type was declared, so that a formula must keep to it. */
  declared: boolean
  formula: ColumnFormula | null
  /** A formula put aside for as long as the column is paused: it is then a source column like any other. */
  paused: PausedFormula | null
  /** The column that the formula's own name means, where it replaces one of a file. */
  original: ColumnId | null
  properties: ColumnProperties
}

/** A link: each row of a table leads to at most one row of another, by equal keys. */
export interface LinkModel {
  readonly id: LinkId
  readonly name: string
  readonly columns: readonly ColumnModel[]
  readonly to: TableModel
  readonly keys: readonly ColumnModel[]
}

/** The columns of a workbook by their ids. */
export type OwnedColumns = Map<ColumnId, { readonly table: TableModel; readonly column: ColumnModel }>

/** What a table model stands for: rows with columns, the tallies or the rules of a table, or the named values of the book. */
export type TableRole = 'rows' | 'tallies' | 'rules' | 'values'

/** A table of the model: named columns in order over stored cells. Tallies and named values are columns over a single row. */
export class TableModel {
  name: string
  readonly store: TableStore
  readonly role: TableRole
  readonly links: LinkModel[] = []
  properties: TableProperties = { label: null, key: null, parent: null, source: null }
  /** The tallies of the table; a table of tallies has none. */
  readonly tallies: TableModel | null
  /** The rules of the table, kept row by row beside its columns, where no formula can name them. */
  readonly rules: TableModel | null
  readonly #columns: ColumnModel[] = []
  /** Columns of the whole workbook by their ids; a table puts its own in. */
  readonly #owned: OwnedColumns
  readonly #byName: Map<string, ColumnModel> = new Map()

  /** @param singles - where the tallies of the table are kept, or its own cells, in roles other than rows */
  constructor(name: string, singles: TableStore, owned: OwnedColumns, role: TableRole = 'rows') {
    this.name = name
    this.#owned = owned
    this.role = role
    this.store = role === 'rows' ? new TableStore() : singles
    this.tallies = role === 'rows' ? new TableModel(name, singles, owned, 'tallies') : null
    this.rules = role === 'rows' ? new TableModel(name, this.store, owned, 'rules') : null
  }

  /** The table with what belongs to it: its tallies and its rules. */
  get parts(): readonly TableModel[] {
    return [this, this.tallies, this.rules].filter((part) => part !== null)
  }

  /** The link of this name, in any case. */
  link(name: string): LinkModel | undefined {
    const folded = foldName(name)
    return this.links.find((link) => foldName(link.name) === folded)
  }

  /** The columns in order. */
  get columns(): readonly ColumnModel[] {
    return this.#columns
  }

  /** The column of this name, in any case. */
  find(name: string): ColumnModel | undefined {
    return this.#byName.get(foldName(name))
  }

  /** The column of this name, or a refusal that suggests the nearest. */
  column(name: string): ColumnModel {
    const found = this.find(name)
    if (found !== undefined) return found
    const near = nearestName(
      name,
      this.#columns.map((column) => column.name),
    )
    const hint = near === undefined ? '' : ` Nearest name: ${printName(near)}.`
    throw refusal('unknown-column', { table: this.name, name: printName(name), hint }, { table: this.name, column: name })
  }

  /** The column of this id, if it is one of the table's. */
  withId(id: ColumnId): ColumnModel | undefined {
    const owned = this.#owned.get(id)
    return owned?.table === this ? owned.column : undefined
  }

  /** The columns that carry a tag, in order. */
  tagged(tag: string): ColumnModel[] {
    const folded = foldName(tag)
    return this.#columns.filter((column) => column.properties.tags?.some((one) => foldName(one) === folded) === true)
  }

  /** Puts a column in, before another or at the end. */
  insert(column: ColumnModel, before?: ColumnModel): void {
    this.#owned.set(column.id, { table: this, column })
    this.#byName.set(foldName(column.name), column)
    this.#columns.splice(before === undefined ? this.#columns.length : this.#columns.indexOf(before), 0, column)
  }

  /** Takes a column out. */
  remove(column: ColumnModel): void {
    this.#owned.delete(column.id)
    this.#byName.delete(foldName(column.name))
    this.#columns.splice(this.#columns.indexOf(column), 1)
  }

  /** The column after one, if any. */
  after(column: ColumnModel): ColumnModel | undefined {
    return this.#columns[this.#columns.indexOf(column) + 1]
  }

  /** Puts a column before another, or at the end. */
  move(column: ColumnModel, before?: ColumnModel): void {
    this.#columns.splice(this.#columns.indexOf(column), 1)
    this.#columns.splice(before === undefined ? this.#columns.length : this.#columns.indexOf(before), 0, column)
  }

  /** Gives a column another name. */
  rename(column: ColumnModel, name: string): void {
    this.#byName.delete(foldName(column.name))
    column.name = name
    this.#byName.set(foldName(name), column)
  }
}

/** How far an id that is given may be from the next one: as many as no workbook ever had. */
const FURTHEST_ID = 1_000_000

/** All tables of a workbook. */
export class Model {
  readonly #tables: Map<string, TableModel> = new Map()
  readonly #owned: OwnedColumns = new Map()
  readonly #singles: TableStore
  /** The named values of the book. */
  readonly values: TableModel
  /** Rings of columns that read each other's earlier rows, by each of their columns. */
  readonly rings: Map<ColumnId, ReadonlySet<ColumnId>> = new Map()
  /** Findings that somebody has accepted, by what they are about. */
  readonly acceptances: Map<string, Acceptance> = new Map()
  #nextColumn = 1

  /** @param engine - whose store holds named values and tallies */
  constructor(engine: Engine) {
    this.#singles = engine.singles
    this.values = new TableModel('book', engine.singles, this.#owned, 'values')
  }

  /** The tables in the order they were added. */
  get tables(): readonly TableModel[] {
    return [...this.#tables.values()]
  }

  /** The table of this name, in any case. */
  find(name: string): TableModel | undefined {
    return this.#tables.get(foldName(name))
  }

  /** The table of this name, or a refusal that suggests the nearest. */
  table(name: string): TableModel {
    const found = this.find(name)
    if (found !== undefined) return found
    const near = nearestName(
      name,
      this.tables.map((table) => table.name),
    )
    throw refusal(
      'unknown-table',
      { name: printName(name), hint: near === undefined ? '' : ` Nearest name: ${printName(near)}.` },
      { table: name },
    )
  }

  /** Makes a table and puts it in. */
  addTable(name: string): TableModel {
    const table = new TableModel(name, this.#singles, this.#owned)
    this.#tables.set(foldName(name), table)
    return table
  }

  /** Takes a table out. */
  remove(table: TableModel): void {
    this.#tables.delete(foldName(table.name))
    for (const owner of table.parts) for (const column of owner.columns) this.#owned.delete(column.id)
  }

  /** Gives a table another name; it keeps its place. */
  rename(table: TableModel, name: string): void {
    const tables = this.tables
    for (const part of table.parts) part.name = name
    this.#tables.clear()
    for (const one of tables) this.#tables.set(foldName(one.name), one)
  }

  /** The id that the next new column gets. */
  get nextColumnId(): ColumnId {
    return this.#nextColumn as ColumnId
  }

  /** Has ids be given again from here on, where those given since are used by nothing. */
  returnColumnIds(next: number): void {
    this.#nextColumn = next
  }

  /**
   * Takes an id for a column or link: the one it had before, or one that was never used. No two ever have one id at a time:
   * what is random in a column goes by it.
   *
   * @throws Refusal for an id that is taken, or so far from the others that none would be left after it
   */
  takeColumnId(given?: number): ColumnId {
    if (given !== undefined) this.#refuseId(given)
    const id = given ?? this.#nextColumn
    this.#nextColumn = Math.max(this.#nextColumn, id + 1)
    return id as ColumnId
  }

  #refuseId(given: number): void {
    const isTaken = this.hasColumn(given) || [...this.links()].some(({ link }) => (link.id as number) === given)
    const most = this.#nextColumn + FURTHEST_ID
    if (!isTaken && given <= most) return
    const reason = isTaken
      ? `there is a column or link with id ${given} already.`
      : `expected at most ${most}, received ${given}.`
    throw refusal('bad-operation', { place: 'field id', reason })
  }

  /** Everything with columns: tables, their tallies and rules, the named values. */
  *owners(): Generator<TableModel> {
    for (const table of this.#tables.values()) yield* table.parts
    yield this.values
  }

  /** All columns, tallies and named values, with what they belong to. */
  *columns(): Generator<{ table: TableModel; column: ColumnModel }> {
    for (const table of this.owners()) for (const column of table.columns) yield { table, column }
  }

  /** All links with their tables. */
  *links(): Generator<{ table: TableModel; link: LinkModel }> {
    for (const table of this.#tables.values()) for (const link of table.links) yield { table, link }
  }

  /** The rule of this name, whichever table it is about. */
  rule(name: string): { table: TableModel; column: ColumnModel } | undefined {
    for (const { rules } of this.#tables.values()) {
      const column = rules?.find(name)
      if (rules !== null && column !== undefined) return { table: rules, column }
    }
    return undefined
  }

  /** The table that tallies or rules belong to; a table itself. */
  rowsOf(owner: TableModel): TableModel | undefined {
    return owner.role === 'values' ? undefined : this.find(owner.name)
  }

  /** True when a column has this id. */
  hasColumn(id: number): boolean {
    return this.#owned.has(id as ColumnId)
  }

  /** The column of an id, with its table. */
  columnOf(id: ColumnId): { table: TableModel; column: ColumnModel } {
    const owned = this.#owned.get(id)
    if (owned === undefined) throw new ReferenceError(`no column has id ${id}`)
    return owned
  }

  /** What a formula of a table, a tally or a named value can use; see `scopeOf`. */
  scopeOf(table: TableModel, own?: ColumnModel, ensureBound?: EnsureBound): Scope {
    return scopeOf(this, table, own, ensureBound)
  }
}
