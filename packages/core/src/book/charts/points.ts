import type { ReadonlyColumn } from '../../columns/index.js'
import { displayScalar, foldName, isFaultStatus, type Scalar, Status, type ValueType } from '../../values/index.js'
import { seriesName } from '../model/index.js'
import { type QueryColumn, sortSlots } from '../queries/index.js'
import type { ChartDefinition, ChartSeries } from '../schemas/index.js'
import { refuseMany } from './chart-refusals.js'
import type { ChartData, ChartSeriesData } from './chart-types.js'

/** Points before they stand in an order. */
interface GivenPoints {
  readonly definition: ChartDefinition
  readonly slots: Int32Array
  readonly x: QueryColumn
  /** What x is sorted by, which is another column where it has an order key. */
  readonly sortedBy: ReadonlyColumn | undefined
  /** The columns of the series. */
  readonly columns: readonly QueryColumn[]
}

/** Puts points in order, and leaves out those without a place along x. */
export function arrangedPoints(given: GivenPoints): Pick<ChartData, 'x' | 'series' | 'leftOut'> {
  const { definition, x, columns } = given
  const { slots, leftOut } = withPlace(given.slots, x.storage)
  const { order } = definition
  const place = definition.series.findIndex((one) => order !== undefined && foldName(seriesName(one)) === foldName(order.by))
  const by = place < 0 ? given.sortedBy : columns[place]?.storage
  const sorted = inOrder(slots, by, order?.descending === true)
  return {
    x: { column: x, ...categoriesOf(sorted, x) },
    series: definition.series.map((one, at) => seriesData(one, seriesName(one), columns[at] as QueryColumn, sorted)),
    leftOut: { ...leftOut, others: 0 },
  }
}

/** A series with its gaps counted. */
export function seriesData(
  { kind, axis = 'left', color }: ChartSeries,
  name: string,
  column: QueryColumn,
  slots: Int32Array,
): ChartSeriesData {
  let [blanks, errors] = [0, 0]
  for (const slot of slots) {
    const status = column.storage?.statusAt(slot) ?? Status.blank
    if (isFaultStatus(status)) errors++
    else if (status !== Status.value) blanks++
  }
  return { name, kind, axis, color: color ?? null, column, slots, blanks, errors }
}

/** True for types that are places on a scale; all others stand side by side. */
export function isScaled(type: ValueType | null): boolean {
  return type === 'number' || type === 'integer' || type === 'date' || type === 'datetime'
}

/** The slots that have a value, and how many have none. */
export function withPlace(
  slots: Int32Array,
  storage: ReadonlyColumn | undefined,
): { readonly slots: Int32Array; readonly leftOut: { readonly blanks: number; readonly errors: number } } {
  const has = (slot: number): boolean => storage?.statusAt(slot) === Status.value
  const kept = slots.filter(has)
  const errors = slots.reduce((sum, slot) => sum + Number(storage !== undefined && isFaultStatus(storage.statusAt(slot))), 0)
  return { slots: kept, leftOut: { blanks: slots.length - kept.length - errors, errors } }
}

/** Sorts slots, unless they are in order already, as rows over time mostly are. */
export function inOrder(slots: Int32Array, storage: ReadonlyColumn | undefined, descending: boolean): Int32Array {
  if (storage === undefined) return slots
  const isNumber = storage.type !== 'text'
  const isSorted =
    isNumber &&
    !descending &&
    slots.every((slot, at) => {
      if (storage.statusAt(slot) !== Status.value) return false
      return at === 0 || Number(storage.valueAt(slots[at - 1] as number)) <= Number(storage.valueAt(slot))
    })
  return isSorted ? slots : sortSlots(slots, [{ storage, descending }])
}

function categoriesOf(slots: Int32Array, { name, type, storage }: QueryColumn): Pick<ChartData['x'], 'categories' | 'places'> {
  if (isScaled(type)) return { categories: null, places: new Int32Array(0) }
  const places = new Map<Scalar, number>()
  const of = Int32Array.from(slots, (slot) => {
    const value = storage?.read(slot) as Scalar
    const known = places.get(value) ?? places.size
    places.set(value, known)
    return known
  })
  refuseMany(places.size, name)
  return { categories: Array.from(places.keys(), (value) => displayScalar(value, type ?? 'text')), places: of }
}
