import { TableStore } from '../../engine/index.js'
import { nearestName, refusal } from '../../findings/index.js'
import type { ColumnId, LinkId } from '../../formula/index.js'
import { foldName, printName } from '../../values/index.js'
import type { ColumnModel } from './column-model.js'
import type { TableSource } from './table-source.js'

/** What is known of a table besides its columns. */
export interface TableProperties {
  /** The column that names a row for its reader. */
  label: ColumnId | null
  /** The columns by which rows are found again when their source is read again. */
  key: readonly ColumnId[] | null
  /** The column that holds the key of a row's parent, for an outline. */
  parent: ColumnId | null
  /** Where the rows were read from. */
  source: TableSource<ColumnId> | null
}

/** A link: each row of a table leads to at most one row of another, by equal keys. */
export interface LinkModel {
  readonly id: LinkId
  readonly name: string
  readonly columns: readonly ColumnModel[]
  readonly to: RowsTable
  readonly keys: readonly ColumnModel[]
}

/** The columns of a workbook by their ids. */
export type OwnedColumns = Map<ColumnId, { readonly table: TableModel; readonly column: ColumnModel }>

/** Named columns in order over stored cells. */
abstract class ColumnList {
  name: string
  readonly store: TableStore
  readonly #columns: ColumnModel[] = []
  /** Columns of the whole workbook by their ids; a table puts its own in. */
  readonly #owned: OwnedColumns
  readonly #byName: Map<string, ColumnModel> = new Map()

  constructor(name: string, store: TableStore, owned: OwnedColumns) {
    this.name = name
    this.store = store
    this.#owned = owned
  }

  /** The same, told apart by its role. */
  protected abstract get self(): TableModel

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
    return owned?.table === this.self ? owned.column : undefined
  }

  /** The columns that carry a tag, in order. */
  tagged(tag: string): ColumnModel[] {
    const folded = foldName(tag)
    return this.#columns.filter((column) => column.properties.tags?.some((one) => foldName(one) === folded) === true)
  }

  /** Puts a column in, before another or at the end. */
  insert(column: ColumnModel, before?: ColumnModel): void {
    this.#owned.set(column.id, { table: this.self, column })
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

/** A table of the workbook: rows with columns, and what belongs to it. */
export class RowsTable extends ColumnList {
  readonly role = 'rows'
  readonly links: LinkModel[] = []
  properties: TableProperties = { label: null, key: null, parent: null, source: null }
  /** The tallies of the table: columns over a single row. */
  readonly tallies: PartTable
  /** The rules of the table, kept row by row beside its columns, where no formula can name them. */
  readonly rules: PartTable

  /** @param singles - where the tallies of the table are kept */
  constructor(name: string, singles: TableStore, owned: OwnedColumns, store: TableStore = new TableStore()) {
    super(name, store, owned)
    this.tallies = new PartTable(name, singles, owned, 'tallies')
    this.rules = new PartTable(name, this.store, owned, 'rules')
  }

  protected get self(): this {
    return this
  }

  /** The table with what belongs to it: its tallies and its rules. */
  get parts(): readonly TableModel[] {
    return [this, this.tallies, this.rules]
  }

  /** The link of this name, in any case. */
  link(name: string): LinkModel | undefined {
    const folded = foldName(name)
    return this.links.find((link) => foldName(link.name) === folded)
  }
}

/** The tallies or the rules of a table, or the named values of the book: columns that belong to something else than rows. */
export class PartTable extends ColumnList {
  readonly role: 'tallies' | 'rules' | 'values'

  /** @param store - of the table for rules; of the single row for all others */
  constructor(name: string, store: TableStore, owned: OwnedColumns, role: PartTable['role']) {
    super(name, store, owned)
    this.role = role
  }

  protected get self(): this {
    return this
  }
}

/** What has columns, told apart by its role. */
export type TableModel = RowsTable | PartTable

/** What a table model stands for. */
export type TableRole = TableModel['role']
