import type { Engine } from '../engine/index.js'
import { refusal } from '../findings/index.js'
import { printName } from '../values/index.js'
import { ColumnView } from './column-view.js'
import type { ColumnModel, Model, ShownValue, TableModel } from './model/index.js'
import { type TableSpec, tableSpec } from './operations/index.js'
import { singleValue } from './queries/index.js'

/** A table to read. It shows the workbook as it is at the moment of each call. */
export class TableView {
  readonly #model: Model
  readonly #table: TableModel
  readonly #engine: Engine

  constructor(model: Model, table: TableModel, engine: Engine) {
    this.#model = model
    this.#table = table
    this.#engine = engine
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
    return (this.#table.tallies as TableModel).column(name).formula?.text ?? null
  }

  /** The rules of the table, in the order they were set. */
  get rules(): readonly {
    readonly name: string
    readonly condition: string
    readonly severity: 'warning' | 'hint'
    readonly note?: string
  }[] {
    return (this.#table.rules?.columns ?? []).map(({ name, formula, properties: { severity = 'warning', note } }) => ({
      name,
      condition: formula?.text ?? '',
      severity,
      ...(note !== undefined && { note }),
    }))
  }

  /** Names of the tallies. */
  get tallies(): readonly string[] {
    return this.#table.tallies?.columns.map((column) => column.name) ?? []
  }

  /** A tally over all rows of the table; refused, with the nearest name, when there is none of this name. */
  tally(name: string): ShownValue {
    return singleValue(this.#engine, this.#table.tallies as TableModel, name)
  }

  /** A column to read; refused, with the nearest name, when there is none of this name. */
  column(name: string): ColumnView {
    return new ColumnView(this.#model, { table: this.#table, column: this.#table.column(name) }, this.#engine)
  }
}
