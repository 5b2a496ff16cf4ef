import type { CellValue } from '../columns/index.js'
import { type Column, type Summary, summarise, writeCellValue } from '../columns/index.js'
import { type Engine, rowCountOf } from '../engine/index.js'
import { type Finding, refusal } from '../findings/index.js'
import { MS_PER_DAY, printName, Status, type ValueType } from '../values/index.js'
import { type Completeness, completenessOf, findingsOfColumn, withCause } from './diagnostics/index.js'
import type { Addressed, Model, TableModel } from './model/index.js'
import { type ColumnModel, type ColumnProperties, formulaOf, type ShownValue, showCell, shownUnit } from './model/index.js'
import { idsOf } from './transaction/index.js'

/** A column to read. */
export class ColumnView {
  readonly #model: Model
  readonly #ownTable: TableModel
  readonly #id: ColumnModel['id']
  readonly #lastName: string
  readonly #engine: Engine

  /** @internal */
  constructor(model: Model, { table, column }: Addressed, engine: Engine) {
    this.#model = model
    this.#ownTable = table
    this.#id = column.id
    this.#lastName = column.name
    this.#engine = engine
  }

  /** The table and the column, as long as they are there. */
  get #owned(): Addressed {
    if (!this.isGone) return this.#model.columnOf(this.#id)
    const place = { table: this.#ownTable.name, column: this.#lastName }
    throw refusal(
      'unknown-column',
      { table: place.table, name: printName(place.column), hint: ' It was there and is gone.' },
      place,
    )
  }

  get #table(): TableModel {
    return this.#owned.table
  }

  get #column(): ColumnModel {
    return this.#owned.column
  }

  /** True when the column is no more; whatever else is asked of the view is then refused. */
  get isGone(): boolean {
    return !this.#model.hasColumn(this.#id)
  }

  toString(): string {
    if (this.isGone) return `column ${this.#ownTable.name}.${this.#lastName}, which is gone`
    const formula = this.formula === null ? '' : ` = ${this.formula}`
    return `column ${this.#table.name}.${printName(this.name)}: ${this.type ?? 'no type yet'}${formula}`
  }

  /** What `console.log` of Node shows. */
  [Symbol.for('nodejs.util.inspect.custom')](): string {
    return `Column { ${this.toString()} }`
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

  /** The unit of its values: the one declared, else what its formula gives; null where there is none. */
  get unit(): string | null {
    return this.#column.shownUnit
  }

  /** The unit that its formula gives, whatever is declared; null where nothing is known of that, and for plain numbers. */
  get inferredUnit(): string | null {
    return shownUnit(this.#column.formula?.checked?.unit ?? null)
  }

  /** True where a formula calculates it now; the formula of a column that is withheld is null all the same. */
  get isCalculated(): boolean {
    return this.#column.isCalculated
  }

  /** True for a reader who is not shown its formula, since that names what is hidden from them. */
  get isWithheld(): boolean {
    return this.#column.isWithheld
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
    return [...idsOf(this.#table.store.rows.idsNow(), [this.#engine.recalculation.staleRowsOf(this.#column.id)])]
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

  /** Dates and date-times in row order as instants in UTC of the same civil time; null where there is no value. */
  dates(): (Date | null)[] {
    const perUnit = this.#column.type === 'date' ? MS_PER_DAY : this.#column.type === 'datetime' ? 1 : Number.NaN
    return Array.from(this.numbers(), (value) => (Number.isNaN(value * perUnit) ? null : new Date(value * perUnit)))
  }

  /** Texts in row order; null where there is no value. */
  texts(): (string | null)[] {
    return this.values().map((value) => (typeof value === 'string' ? value : null))
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
    return findingsOfColumn(this.#model, this.#engine, this.#owned).map((one) => withCause(this.#model, this.#engine, one))
  }

  /** Bytes of its storage. */
  byteLength(): number {
    return this.#table.store.column(this.#column.id)?.byteLength() ?? 0
  }
}
