import { type Column, type Summary, summarise } from '../columns/index.js'
import { type Engine, rowCountOf } from '../engine/index.js'
import { type Finding, refusal } from '../findings/index.js'
import { printName, Status, type ValueType } from '../values/index.js'
import type { Addressed } from './address.js'
import { type ShownValue, showCell, writeCellValue } from './cell-values.js'
import { idsOf } from './change-set.js'
import { type Completeness, completenessOf } from './completeness.js'
import { withCause } from './error-findings.js'
import { findingsOfColumn } from './findings-of.js'
import { type ColumnModel, type ColumnProperties, formulaOf, type Model, type TableModel } from './model.js'
import { type TableSpec, tableSpec } from './operations/change-table.js'
import type { CellValue } from './schemas/cell-value.js'

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

/** The value of a tally or of a named value. */
export function singleValue(engine: Engine, owner: TableModel, name: string): ShownValue {
  const storage = engine.recalculation.storage(owner.store, owner.column(name).id)
  return storage === undefined ? null : showCell(storage.read(0), storage.type)
}

/** A column to read. */
export class ColumnView {
  readonly #model: Model
  readonly #table: TableModel
  readonly #column: ColumnModel
  readonly #engine: Engine

  constructor(model: Model, { table, column }: Addressed, engine: Engine) {
    this.#model = model
    this.#table = table
    this.#column = column
    this.#engine = engine
  }

  get name(): string {
    return this.#column.name
  }

  /** What stays the same when it is renamed. */
  get id(): number {
    return this.#column.id
  }

  /** Its type; null for a column that has no values and was declared none. */
  get type(): ValueType | null {
    return this.#column.type
  }

  /** Its formula, also while it is paused; null for a source column. */
  get formula(): string | null {
    return formulaOf(this.#column)?.text ?? null
  }

  /** How many rows of a score have all of its parts; null for a column that takes no several columns together. */
  completeness(): Completeness | null {
    return completenessOf(this.#engine, this.#table, this.#column)
  }

  /** True where its type was declared, and does not follow from its formula. */
  get isDeclared(): boolean {
    return this.#column.paused?.declared ?? this.#column.declared
  }

  /** True for a column whose formula is put aside, so that its cells can be typed over. */
  get isPaused(): boolean {
    return this.#column.paused !== null
  }

  /** Ids of the rows of a paused column that were typed over by hand, in row order. */
  typedIds(): number[] {
    const { rows } = this.#table.store
    const slots = [...(this.#column.paused?.typed ?? [])].flatMap((id) => rows.slotOf(id) ?? [])
    return slots.sort((a, b) => rows.placeOf(a) - rows.placeOf(b)).map((slot) => rows.idOf(slot))
  }

  /** Unit, display, note and so on. */
  get properties(): ColumnProperties {
    return this.#column.properties
  }

  #storage(slots?: Iterable<number>): Column | undefined {
    return this.#engine.recalculation.storage(this.#table.store, this.#column.id, slots)
  }

  /** How many of its cells are out of step with their sources: marked stale until they are calculated. */
  get stale(): number {
    return rowCountOf(this.#engine.recalculation.staleRowsOf(this.#column.id))
  }

  /** Ids of the rows whose cell is out of step with its sources. */
  staleIds(): number[] {
    return [...idsOf(this.#table.store, [this.#engine.recalculation.staleRowsOf(this.#column.id)])]
  }

  /** Values in row order: numbers, texts, booleans, ISO 8601 text for dates, null for blank, CellFault for errors. */
  values(): ShownValue[] {
    const storage = this.#storage()
    const slots = this.#table.store.rows.inOrder()
    if (storage === undefined) return Array.from(slots, () => null)
    return Array.from(slots, (slot) => showCell(storage.read(slot), storage.type))
  }

  /** The numbers of a column in row order, days or milliseconds since 1970-01-01 for dates; NaN where there is no value. */
  numbers(): Float64Array {
    const storage = this.#storage()
    const numbers = new Float64Array(this.#table.store.rows.rowCount).fill(Number.NaN)
    if (storage === undefined || storage.type === 'text' || storage.type === 'boolean') return numbers
    for (const [index, slot] of this.#table.store.rows.inOrder().entries())
      if (storage.statusAt(slot) === Status.value) numbers[index] = storage.valueAt(slot) as number
    return numbers
  }

  /** Values of the first rows in storage, for a look at what the column holds. */
  sample(count: number): ShownValue[] {
    const { store } = this.#table
    const slots = Array.from({ length: Math.min(count, store.rows.slotCount) }, (_, slot) => slot).filter((slot) =>
      store.rows.isLive(slot),
    )
    const storage = this.#storage(slots)
    if (storage === undefined) return []
    return slots.map((slot) => showCell(storage.read(slot), storage.type))
  }

  /** The value of the row with this id; undefined when there is no such row. */
  value(rowId: number): ShownValue | undefined {
    const { store } = this.#table
    const slot = store.rows.slotOf(rowId)
    if (slot === undefined) return undefined
    const storage = this.#storage([slot])
    return storage === undefined ? null : showCell(storage.read(slot), storage.type)
  }

  /** The cell of the row with this id as operations carry it, so that it can be set again; blank for no such row. */
  stored(rowId: number): CellValue {
    const { store } = this.#table
    const slot = store.rows.slotOf(rowId)
    const storage = slot === undefined ? undefined : this.#storage([slot])
    return slot === undefined || storage === undefined ? null : writeCellValue(storage.read(slot), storage.type)
  }

  /** Counts, exact total and extremes over all rows. */
  summary(): Summary {
    const { store } = this.#table
    const slots = store.rows.inOrder()
    const storage = this.#storage()
    if (storage !== undefined) return summarise(storage, slots)
    return {
      rows: slots.length,
      values: 0,
      blanks: slots.length,
      errors: 0,
      fault: null,
      sum: null,
      mean: null,
      min: null,
      max: null,
    }
  }

  /** Names of the columns its formula reads. */
  sources(): string[] {
    const ids = this.#engine.columnGraph.sourcesOf(this.#column.id)
    return this.#table.columns.filter((column) => ids.includes(column.id)).map((column) => column.name)
  }

  /** Names of the columns whose formulas read it. */
  dependents(): string[] {
    const ids = this.#engine.columnGraph.dependentsOf(this.#column.id)
    return this.#table.columns.filter((column) => ids.has(column.id)).map((column) => column.name)
  }

  /** What there is to say about it now. */
  findings(): Finding[] {
    return findingsOfColumn(this.#engine, this.#table, this.#column).map((one) => withCause(this.#model, this.#engine, one))
  }

  /** Bytes of its storage. */
  byteLength(): number {
    return this.#table.store.column(this.#column.id)?.byteLength() ?? 0
  }
}
