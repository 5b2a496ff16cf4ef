import type { CellValue } from '../../columns/index.js'
import { type ColumnOutcome, DirtyRows, type Engine, type TableStore } from '../../engine/index.js'
import type { ColumnId } from '../../formula/index.js'
import { isSameReading, type Unit } from '../../units/index.js'
import { foldName } from '../../values/index.js'
import type { ColumnModel, Model, TableModel } from '../model/index.js'
import type { JournaledOperation } from '../schemas/index.js'
import { InsertedSlots } from './inserted-slots.js'

/** A cell that was filled, with what it held before. */
export interface FilledCell {
  readonly row: number
  readonly column: ColumnId
  readonly value: CellValue
}

/** Who calls, as far as operations on rows and cells go by it. */
export interface Caller {
  /** The model as they have it, by which names are found: without what is hidden from them. */
  readonly names: Model
  /** Whether they may type over cells that are fixed. */
  readonly mayDefine: boolean
}

/** What the operations of one call share while they are applied: what they touch, and how to take it back. */
export class Transaction {
  readonly model: Model
  readonly engine: Engine
  /**
   * The model as the one who calls has it, by which operations on rows and cells find names: the same, or without what is hidden
   * from them. What is touched is noted of the whole model.
   */
  readonly names: Model
  /** Whether cells that are fixed may be typed over. */
  readonly mayDefine: boolean
  /** What undoes the operations so far, the last one first to be applied: the other way round than `inverse`. */
  readonly #undone: JournaledOperation[] = []
  /** The operations as they can be repeated: with the ids they were given. */
  readonly applied: JournaledOperation[] = []
  /** Calculated columns whose formula must be checked before anything is recalculated, with their tables. */
  readonly unbound: Map<ColumnModel, TableModel> = new Map()
  /** Columns whose type has changed, so that formulas reading them are checked again. */
  readonly retyped: Set<ColumnModel> = new Set()
  readonly dirty: Map<TableModel, DirtyRows> = new Map()
  /** New rows. */
  readonly inserted: Map<TableModel, InsertedSlots> = new Map()
  readonly removed: Map<TableModel, number[]> = new Map()
  /** Columns whose findings are to be looked at although no cell was written. */
  readonly findingsDue: Set<ColumnModel> = new Set()
  /** Rings of columns that read each other's earlier rows, by each of their columns; kept from one call to the next. */
  get rings(): Map<ColumnId, ReadonlySet<ColumnId>> {
    return this.model.rings
  }

  /** Columns that are to be calculated although the workbook calculates on demand. */
  toFlush: Set<ColumnId> | 'all' = new Set()
  /** What was recalculated before the end of the call, since an operation needed the values. */
  readonly outcomes: ColumnOutcome[] = []
  /** What can only be told once everything is recalculated; a refusal then takes the whole call back. */
  readonly afterwards: (() => void)[] = []
  /** Formulas put aside by pausing whose names are to be found again. */
  readonly setAside: Set<ColumnModel> = new Set()

  /** Stamps that operations of the call bring along. */
  readonly stamped: Set<ColumnId> = new Set()

  /** What cells held that were written by filling their column, where a stamp watches it. */
  readonly filled: Map<TableModel, FilledCell[]> = new Map()

  /** Columns that are no more. */
  readonly gone: Set<ColumnId> = new Set()

  /**
   * True for a step back or forth: what it leads to was whole before, so nothing is refused for being in use on the way, where
   * what uses it is yet to go.
   */
  readonly isUndoRedo: boolean
  readonly #ringsBefore: ReadonlyMap<ColumnId, ReadonlySet<ColumnId>>

  constructor(
    model: Model,
    engine: Engine,
    isUndoRedo = false,
    { names, mayDefine }: Caller = { names: model, mayDefine: true },
  ) {
    this.model = model
    this.names = names
    this.mayDefine = mayDefine
    this.engine = engine
    this.isUndoRedo = isUndoRedo
    this.#ringsBefore = new Map(model.rings)
  }

  /** Restores the rings from before this call, which is taken back. */
  returnRings(): void {
    this.rings.clear()
    for (const [column, ring] of this.#ringsBefore) this.rings.set(column, ring)
  }

  /**
   * Formulas that are to be checked again, since something that findings go by has changed, or what a tag takes in. One that
   * comes out the same is not computed again.
   */
  readonly rechecked: Map<ColumnModel, TableModel> = new Map()

  /** Columns in another unit than before whose readers are to be checked again. */
  readonly inOtherUnit: Set<ColumnModel> = new Set()
  /** The unit that columns had before this call, of those that are in another one now or were on the way. */
  readonly unitsBefore: Map<ColumnModel, Unit | null> = new Map()

  /** Does something that may bring a column to another unit, and notes whether it has; of one that is new, for its readers only. */
  noteUnit(column: ColumnModel, change: () => void, isNew = false): void {
    const before = column.unit
    change()
    if (isSameReading(before, column.unit)) return
    this.inOtherUnit.add(column)
    if (!this.unitsBefore.has(column) && !isNew) this.unitsBefore.set(column, before)
  }

  /** Schedules another check of a column's formula and of those that read it. */
  recheckReaders(column: ColumnModel): void {
    for (const id of [column.id, ...this.engine.columnGraph.dependentsOf(column.id)]) {
      if (!this.model.hasColumn(id)) continue
      const reader = this.model.columnOf(id)
      if (reader.column.formula !== null) this.rechecked.set(reader.column, reader.table)
    }
  }

  /** Schedules another check of formulas with tags, after a column has taken or lost one. */
  recheckTags(table: TableModel): void {
    for (const column of table.columns) if (column.formula?.text.includes('#') === true) this.rechecked.set(column, table)
  }

  /** True once an own function is another one, or is gone. */
  hasOtherFunctions = false
  /** True once a named value may be of another type. */
  hasOtherValues = false

  /** Notes that a named value may be of another type, by which own functions go. */
  noteOtherValues(): void {
    this.hasOtherValues = true
    this.model.functions.forget()
  }

  /** Schedules another check of formulas that call some of the own functions, themselves or through others. */
  recheckCallers(names: Iterable<string>): void {
    const { functions } = this.model
    this.hasOtherFunctions = true
    functions.forget()
    const called = functions.callersOf(names)
    for (const { table, column } of this.model.columns())
      if (column.formula?.checked?.functions.some(({ name }) => called.has(foldName(name))) === true)
        this.rechecked.set(column, table)
  }

  /** What was touched in a table. */
  dirtyIn(table: TableModel): DirtyRows {
    return entryOf(this.dirty, this.#whole(table), () => new DirtyRows())
  }

  /** A table with all of its columns, whoever calls. */
  #whole(table: TableModel): TableModel {
    return this.names === this.model || table.role !== 'rows' ? table : this.model.table(table.name)
  }

  /** Notes what the cells of a column held that is filled as a whole, for stamps that watch it. */
  noteFilled(own: TableModel, column: ColumnModel, slots: Int32Array, former: readonly CellValue[]): void {
    const table = this.#whole(own)
    if (!table.columns.some(({ properties }) => properties.stamp?.when.includes(column.id) === true)) return
    const cells = entryOf(this.filled, table, () => [] as FilledCell[])
    for (const [index, slot] of slots.entries())
      cells.push({ row: table.store.rows.idOf(slot), column: column.id, value: former[index] ?? null })
  }

  /** Notes new rows. */
  noteInserted(table: TableModel, slots: readonly number[]): void {
    entryOf(this.inserted, this.#whole(table), () => new InsertedSlots()).add(slots)
    this.dirtyIn(table).touchRows(slots)
  }

  /** Notes rows that are about to go. */
  noteRemoved(table: TableModel, slots: readonly number[]): void {
    const { store } = table
    const removed = entryOf(this.removed, table, () => [] as number[])
    for (const slot of slots) removed.push(store.rows.idOf(slot))
    this.inserted.get(table)?.delete(slots)
    this.dirtyIn(table).removeRows(slots, store.rows)
  }

  /** Brings calculated columns up to date with the operations so far, for an operation that reads them. */
  bringUpAll(): void {
    const dirty = new Map([...this.dirty].map(([table, rows]) => [table.store, rows]))
    // Columns of another type than their readers were checked for have to wait until those are bound again.
    if (this.retyped.size > 0 || dirty.size === 0) return
    this.#noteOutcomes(this.engine.recalculation.run(dirty))
    this.dirty.clear()
  }

  /** The same, and calculates what one column has waiting, for an operation that keeps its values. */
  bringUp(column: ColumnModel): void {
    this.bringUpAll()
    this.#noteOutcomes(this.engine.recalculation.flush([column.id]))
  }

  #noteOutcomes(outcomes: readonly ColumnOutcome[]): void {
    for (const one of outcomes) this.outcomes.push(one)
  }

  /** Notes the operation that undoes what was just done; what was done last is undone first. */
  undoWith(operation: JournaledOperation): void {
    this.#undone.push(operation)
  }

  /** Undoes what was done so far, in the order it is to be applied. */
  get inverse(): JournaledOperation[] {
    return this.#undone.toReversed()
  }
}

/** The entry of a key, made where there is none. */
function entryOf<Key, Value>(map: Map<Key, Value>, key: Key, make: () => Value): Value {
  const known = map.get(key)
  if (known !== undefined) return known
  const made = make()
  map.set(key, made)
  return made
}

/** The storage of a column that is known to have a type. */
export function storageOf(store: TableStore, column: ColumnModel): NonNullable<ReturnType<TableStore['column']>> {
  const storage = store.column(column.id)
  if (storage === undefined) throw new ReferenceError(`${column.name} has no storage`)
  return storage
}
