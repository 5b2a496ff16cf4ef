import type { Engine } from '../engine/index.js'
import { refusal } from '../findings/index.js'
import { type Model, type ShownValue, showCell, type TableModel } from './model/index.js'

/** A row to read. It shows the row as it is at the moment of each call. */
export class RowView {
  readonly #model: Model
  readonly #table: TableModel
  readonly #engine: Engine
  /** What stays the same wherever the row stands; never given to another row. */
  readonly id: number

  /**
   * @param id - of a row that is there
   * @internal
   */
  constructor(model: Model, table: TableModel, engine: Engine, id: number) {
    this.#model = model
    this.#table = table
    this.#engine = engine
    this.id = id
  }

  /**
   * Its number now, from 1.
   *
   * @throws Refusal when the row is gone
   */
  get number(): number {
    return this.#table.store.rows.placeOf(this.#slot()) + 1
  }

  /**
   * The value of a column in this row.
   *
   * @throws Refusal for a column that there is not, with the nearest name, and when the row is gone
   */
  get(column: string): ShownValue {
    return this.#read(this.#slot(), this.#table.column(column).id)
  }

  /** All values by column, hidden columns included; an object without a prototype, so that any name is just a name. */
  values(): Record<string, ShownValue> {
    const slot = this.#slot()
    const values: Record<string, ShownValue> = Object.create(null)
    for (const { name, id } of this.#table.columns) values[name] = this.#read(slot, id)
    return values
  }

  toString(): string {
    return `row ${this.number} of ${this.#table.name} (id ${this.id})`
  }

  /** What `console.log` of Node shows. */
  [Symbol.for('nodejs.util.inspect.custom')](): string {
    return `Row { ${this.toString()} }`
  }

  #read(slot: number, column: TableModel['columns'][number]['id']): ShownValue {
    const storage = this.#engine.recalculation.storage(this.#table.store, column, [slot])
    return storage === undefined ? null : showCell(storage.read(slot), storage.type)
  }

  #slot(): number {
    const { name, store } = this.#table
    const slot = this.#model.find(name) === this.#table ? store.rows.slotOf(this.id) : undefined
    if (slot === undefined) throw refusal('unknown-row', { table: name, row: this.id }, { table: name })
    return slot
  }
}
