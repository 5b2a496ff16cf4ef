import type { CellValue } from '../columns/index.js'
import type { Engine } from '../engine/index.js'
import { counted, refusal } from '../findings/index.js'
import { printName, type ValueType } from '../values/index.js'
import { ColumnView } from './column-view.js'
import { keyCells } from './key-cells.js'
import {
  type ColumnModel,
  type ColumnProperties,
  columnUnder,
  lookOf,
  type Model,
  type RowsTable,
  type ShownValue,
} from './model/index.js'
import { type TableSpec, tableSpec } from './operations/index.js'
import { singleValue } from './queries/index.js'
import { RowView } from './row-view.js'

/** What a tally gives, and how it is shown. */
export interface TallyFacts {
  readonly type: ValueType | null
  /** The column whose values it sums, averages or counts; null where it does not do that alone. */
  readonly column: string | null
  /** What is said of it. */
  readonly described: ColumnProperties
  /** The same with what it takes over from the column. */
  readonly properties: ColumnProperties
}

/** A table to read. It shows the workbook as it is at the moment of each call. */
export class TableView {
  readonly #model: Model
  readonly #of: RowsTable
  readonly #engine: Engine

  /** @internal */
  constructor(model: Model, table: RowsTable, engine: Engine) {
    this.#model = model
    this.#of = table
    this.#engine = engine
  }

  /** Its table, as long as it is there. */
  get #table(): RowsTable {
    if (this.isGone)
      throw refusal(
        'unknown-table',
        { name: printName(this.#of.name), hint: ' It was there and is gone.' },
        { table: this.#of.name },
      )
    return this.#of
  }

  /** True when the table is no more; whatever else is asked of the view is then refused. */
  get isGone(): boolean {
    return this.#model.find(this.#of.name) !== this.#of
  }

  get name(): string {
    return this.#table.name
  }

  get rowCount(): number {
    return this.#table.store.rows.rowCount
  }

  /** The id of the row with a number, from 1; undefined when there are not so many. */
  idAt(rowNumber: number): number | undefined {
    const { rows } = this.#table.store
    const slot = rows.slotAt(rowNumber - 1)
    return slot === undefined ? undefined : rows.idOf(slot)
  }

  /** True when there is a row with this id. */
  hasRow(id: number): boolean {
    return this.#table.store.rows.slotOf(id) !== undefined
  }

  /** The row with this id; undefined when there is none. */
  row(id: number): RowView | undefined {
    return this.hasRow(id) ? this.#rowView(id) : undefined
  }

  /**
   * The row with a key, found by an index that is made when first asked for and follows every edit.
   *
   * @param key - the value of the key column (operation `change-table`), or values by column
   * @returns undefined when no row has it
   * @throws Refusal when several rows have it, when the table has no key column that a single value could be of, and for
   *   columns that there are not
   */
  find(key: CellValue | Readonly<Record<string, CellValue>>): RowView | undefined {
    const [first, ...others] = this.findAll(key)
    if (others.length === 0) return first
    const reason = `${others.length + 1} rows have this key; findAll gives them all.`
    throw refusal('bad-operation', { place: `find in ${printName(this.name)}`, reason }, { table: this.name })
  }

  /** The rows with a key, in row order; see `find`. */
  findAll(key: CellValue | Readonly<Record<string, CellValue>>): RowView[] {
    const table = this.#table
    const { rows } = table.store
    const cells = keyCells(table, key, this.#engine.surroundings.zone)
    const slots = this.#engine.rowsWithKey(
      table.store,
      cells.map(({ column }) => column.id),
      cells.map(({ cell }) => cell),
    )
    slots.sort((a, b) => rows.placeOf(a) - rows.placeOf(b))
    return slots.map((slot) => this.#rowView(rows.idOf(slot)))
  }

  /** The rows one after the other, in row order. */
  *[Symbol.iterator](): IterableIterator<RowView> {
    for (const id of this.rowIds()) if (this.hasRow(id)) yield this.#rowView(id)
  }

  #rowView(id: number): RowView {
    return new RowView(this.#model, this.#table, this.#engine, id)
  }

  toString(): string {
    if (this.isGone) return `table ${this.#of.name}, which is gone`
    const columns = this.#table.columns.map(({ name }) => printName(name)).join(', ')
    return `table ${this.name}: ${counted(this.rowCount, 'row')} of ${columns}`
  }

  /** What `console.log` of Node shows. */
  [Symbol.for('nodejs.util.inspect.custom')](): string {
    return `Table { ${this.toString()} }`
  }

  /** Ids of the rows, in row order. */
  rowIds(): number[] {
    const { rows } = this.#table.store
    return Array.from(rows.inOrder(), (slot) => rows.idOf(slot))
  }

  /** The columns in order. */
  get columns(): readonly ColumnView[] {
    return this.#table.columns.map((column) => new ColumnView(this.#model, { table: this.#table, column }, this.#engine))
  }

  /** Its label column, its key columns, and the file it was read from; null for what it has not. */
  get properties(): TableSpec {
    return tableSpec(this.#table)
  }

  /** Names of the links to other tables. */
  get links(): readonly string[] {
    return this.#table.links.map((link) => link.name)
  }

  /** A link as it is written; undefined when there is none of this name. */
  link(name: string): string | undefined {
    const link = this.#table.link(name)
    const names = (columns: readonly ColumnModel[]): string => columns.map((column) => printName(column.name)).join(', ')
    return link && `${names(link.columns)} -> ${printName(link.to.name)}.${names(link.keys)}`
  }

  /** What a link leads from and to; refused when there is none of this name. */
  linkParts(name: string): { readonly columns: string[]; readonly to: string; readonly keys: string[] } {
    const link = this.#table.link(name)
    if (link === undefined) throw refusal('unknown-link', { table: printName(this.#table.name), name: printName(name), hint: '' })
    const names = (columns: readonly ColumnModel[]): string[] => columns.map((column) => column.name)
    return { columns: names(link.columns), to: link.to.name, keys: names(link.keys) }
  }

  /** The formula of a tally; refused when there is none of this name. */
  tallyFormula(name: string): string | null {
    return this.#table.tallies.column(name).formula?.text ?? null
  }

  /** What a tally gives and how it is shown; refused when there is none of this name. */
  tallyFacts(name: string): TallyFacts {
    const { id, type, properties, formula } = this.#table.tallies.column(name)
    const under = columnUnder(formula?.checked?.expression)
    const column = under === null ? undefined : this.#table.withId(under)
    return {
      type,
      column: column?.name ?? null,
      described: properties,
      properties: { ...lookOf(this.#model, id), ...properties },
    }
  }

  /** The rules of the table, in the order they were set. */
  get rules(): readonly {
    readonly name: string
    readonly condition: string
    readonly severity: 'warning' | 'hint'
    readonly note?: string
  }[] {
    return this.#table.rules.columns.map(({ name, formula, properties: { severity = 'warning', note } }) => ({
      name,
      condition: formula?.text ?? '',
      severity,
      ...(note !== undefined && { note }),
    }))
  }

  /** Names of the tallies. */
  get tallies(): readonly string[] {
    return this.#table.tallies.columns.map((column) => column.name)
  }

  /** A tally over all rows of the table; refused, with the nearest name, when there is none of this name. */
  tally(name: string): ShownValue {
    return singleValue(this.#engine, this.#table.tallies, name)
  }

  /** A column to read; refused, with the nearest name, when there is none of this name. */
  column(name: string): ColumnView {
    return new ColumnView(this.#model, { table: this.#table, column: this.#table.column(name) }, this.#engine)
  }
}
