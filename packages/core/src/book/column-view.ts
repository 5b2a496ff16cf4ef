import type { CellValue } from '../columns/index.js'
import { type Column, type Summary, summarise, writeCellValue } from '../columns/index.js'
import { type Engine, rowCountOf } from '../engine/index.js'
import type { Finding } from '../findings/index.js'
import { Status, type ValueType } from '../values/index.js'
import { type Completeness, completenessOf, findingsOfColumn, withCause } from './diagnostics/index.js'
import type { Addressed, Model, TableModel } from './model/index.js'
import { type ColumnModel, type ColumnProperties, formulaOf, type ShownValue, showCell } from './model/index.js'
import { idsOf } from './transaction/index.js'

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
