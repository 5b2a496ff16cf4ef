import { type Column, columnOfCells, type ReadonlyColumn } from '../../columns/index.js'
import type { Engine } from '../../engine/index.js'
import type { Checked } from '../../formula/index.js'
import { CellFault, compareText, type Scalar } from '../../values/index.js'
import type { ColumnModel, Model, Owned, TableModel } from '../model/index.js'
import { orderKeyOf } from '../model/index.js'

/**
 * What a column is sorted by: its cells, or, with an order key, the places of its values in the order of their keys. Of
 * several keys of a value the lowest counts; values of one key stand in their own order, those without a key last.
 */
export function sortable(engine: Engine, table: TableModel, column: ColumnModel): Column | undefined {
  return inPlaces(engine.recalculation.storage(table.store, column.id), placesOf(engine, { table, column }), table)
}

/** A column with the places of its values instead; as it is where they have none. */
export function inPlaces<Storage extends ReadonlyColumn>(
  storage: Storage | undefined,
  places: ReadonlyMap<Scalar, number> | null,
  table: TableModel,
): Storage | Column | undefined {
  if (places === null || storage === undefined) return storage
  return columnOfCells('number', table.store.rows.slotCount, (slot) => {
    const cell = storage.read(slot)
    return cell === null || cell instanceof CellFault ? cell : (places.get(cell) ?? null)
  })
}

/** The places of the values of a column in the order of their keys; null for a column without an order key. */
export function placesOf(engine: Engine, { table, column }: Owned): ReadonlyMap<Scalar, number> | null {
  const key = orderKeyOf(table, column)
  if (key === undefined) return null
  const keys = [...keysByValue(engine, table, column, key)].map(([value, { lowest }]) => ({ value, key: lowest }))
  keys.sort((a, b) => compareKeys(a.key, b.key) || compareScalars(a.value, b.value))
  return new Map(keys.map(({ value }, place) => [value, place]))
}

/** The column whose values an expression gives as they are, in its own table or along links. */
export function columnGiven(model: Model, node: Checked): Owned | undefined {
  if (node.kind === 'follow') return columnGiven(model, node.read)
  return node.kind === 'column' && model.hasColumn(node.column) ? model.columnOf(node.column) : undefined
}

/** The order keys of a value. */
export interface Keys {
  readonly lowest: Scalar | null
  /** Another key of the same value, where there is one. */
  readonly other: Scalar | null
}

/** The order keys of each value of a column. */
export function keysByValue(engine: Engine, table: TableModel, column: ColumnModel, key: ColumnModel): Map<Scalar, Keys> {
  const storage = engine.recalculation.storage(table.store, column.id)
  const keys = engine.recalculation.storage(table.store, key.id)
  const found = new Map<Scalar, Keys>()
  for (const slot of table.store.rows.inOrder()) {
    const value = storage?.read(slot) ?? null
    const own = keys?.read(slot) ?? null
    if (value === null || value instanceof CellFault) continue
    const known = found.get(value) ?? { lowest: null, other: null }
    if (own === null || own instanceof CellFault) found.set(value, known)
    else if (known.lowest === null) found.set(value, { lowest: own, other: known.other })
    else if (known.lowest !== own)
      found.set(value, compareScalars(own, known.lowest) < 0 ? { lowest: own, other: known.lowest } : { ...known, other: own })
  }
  return found
}

/** Compares two order keys; those without one come last. */
export function compareKeys(a: Scalar | null, b: Scalar | null): number {
  if (a === null || b === null) return Number(a === null) - Number(b === null)
  return compareScalars(a, b)
}

/** Compares two values of one type. */
export function compareScalars(a: Scalar, b: Scalar): number {
  return typeof a === 'string' && typeof b === 'string' ? compareText(a, b) : Number(a) - Number(b)
}
