import * as v from 'valibot'
import type { Cell, CellValue, ReadonlyColumn, RowSet } from '../../columns/index.js'
import { writeCellValue } from '../../columns/index.js'
import type { Engine } from '../../engine/index.js'
import { refusal } from '../../findings/index.js'
import { CellFault, type Scalar } from '../../values/index.js'
import type { ColumnModel, Model, TableModel } from '../model/index.js'
import { orderKeyOf, readCellValue } from '../model/index.js'
import { compareKeys, compareScalars, type Keys, keysByValue } from './order-keys.js'
import { parseOrder, runQuery } from './query.js'
import type { Query, QueryResult } from './query-types.js'

/** A part of the rows of a query, and where the next part begins. */
export interface PageOfRows extends QueryResult {
  /** Where it ends, for the page after it; null at the end. */
  readonly end: PageEnd | null
}

const value = v.union([
  v.number(),
  v.string(),
  v.boolean(),
  v.null(),
  v.strictObject({ misfit: v.string() }),
  v.strictObject({ error: v.string() }),
])
type PageValue = v.InferOutput<typeof value>

const endShape = v.strictObject({
  id: v.pipe(v.number(), v.integer()),
  number: v.pipe(v.number(), v.integer(), v.minValue(1)),
  /** Of each column its cell, and what that is ordered by where its values stand in the order of others. */
  keys: v.array(v.pipe(v.array(value), v.minLength(1), v.maxLength(2))),
})
/** Where a page ended: the row, its number, and its cells in the columns of the order, as they were then. Plain JSON. */
export type PageEnd = v.InferOutput<typeof endShape>

/** A key of the order: what its column holds, and, where its values stand in the order of others, what those are. */
interface Key {
  readonly column: ColumnModel
  readonly cells: ReadonlyColumn | undefined
  readonly ordering: { readonly by: ColumnModel; readonly lowest: ReadonlyMap<Scalar, Keys> } | null
  readonly descending: boolean
}

/**
 * Rows of a query from where another page ended. Pages neither repeat rows nor leave any out for edits between them, other than
 * rows that were put elsewhere themselves: a page goes on behind the row where the last one ended, or behind where it stood. (Of
 * a table whose rows were put in places by hand, where that row and others before it are gone, a row of equal keys may be.)
 *
 * @param after - where the page before ended, as it came; the first page when left out
 * @throws Refusal as `query` does, and for an `after` that is none
 */
export function pageOfRows(model: Model, engine: Engine, query: Query, after?: unknown): PageOfRows {
  const { limit = Number.MAX_SAFE_INTEGER, offset: _, ...whole } = query
  const table = model.table(query.table)
  const order = typeof query.order === 'string' ? parseOrder(query.order) : (query.order ?? [])
  const keys = order.map(({ column: name, descending = false }): Key => {
    const column = table.column(name)
    const cells = engine.recalculation.storage(table.store, column.id)
    const by = orderKeyOf(table, column)
    const ordering = by === undefined ? null : { by, lowest: keysByValue(engine, table, column, by) }
    return { column, cells, ordering, descending }
  })
  const start = after === undefined ? 0 : placeBehind(model, engine, table, { whole, keys }, endOf(after, keys))
  const found = runQuery(model, engine, { ...whole, offset: start, limit })
  const last = found.slots.at(-1)
  const isEnd = last === undefined || start + found.slots.length >= found.matched
  return { ...found, end: isEnd ? null : endAt(table, keys, last) }
}

function endAt({ store }: TableModel, keys: readonly Key[], slot: number): PageEnd {
  return { id: store.rows.idOf(slot), number: store.rows.placeOf(slot) + 1, keys: keys.map((key) => valueAt(key, slot)) }
}

function endOf(given: unknown, keys: readonly Key[]): PageEnd {
  const read = v.safeParse(endShape, given)
  if (read.success && read.output.keys.length === keys.length) return read.output
  throw refusal('bad-operation', { place: 'the query, field after', reason: 'it is not where a page of this query ended.' })
}

/** The cell of a row in a column of the order, and what that is ordered by. */
function valueAt({ column, cells, ordering }: Key, slot: number): PageEnd['keys'][number] {
  const cell = cells?.read(slot) ?? null
  const value = writeCellValue(cell, column.type ?? 'text') as PageValue
  if (ordering === null) return [value]
  const lowest = ordering.lowest.get(cell as Scalar)?.lowest ?? null
  return [value, writeCellValue(lowest, ordering.by.type ?? 'text') as PageValue]
}

/** The place among all rows found of the first one behind a end. */
function placeBehind(
  model: Model,
  engine: Engine,
  table: TableModel,
  { whole, keys }: { readonly whole: Query; readonly keys: readonly Key[] },
  end: PageEnd,
): number {
  const { slots } = runQuery(model, engine, { ...whole, columns: [] })
  const { rows } = table.store
  const own = rows.slotOf(end.id)
  const isWhereItWas = own !== undefined && keys.every((key, at) => isSame(valueAt(key, own), end.keys[at]))
  const at = isWhereItWas ? slots.indexOf(own) : -1
  if (at >= 0) return at + 1
  const isPlacedBehind = behind(rows, own, end)
  const comparisons = keys.map((key, index) => comparison(engine, key, end.keys[index] as PageEnd['keys'][number]))
  const isBehind = (slot: number): boolean => {
    for (const compare of comparisons) {
      const order = compare(slot)
      if (order !== 0) return order > 0
    }
    return isPlacedBehind(slot)
  }
  let [low, high] = [0, slots.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (isBehind(slots[middle] as number)) high = middle
    else low = middle + 1
  }
  return low
}

/**
 * Tells which rows stand in the table behind a row that may be gone. Where rows stand as they came in, their ids tell; where some
 * were put elsewhere, what stands now where it stood is taken to be what stood behind it.
 */
function behind(rows: RowSet, own: number | undefined, { id, number }: PageEnd): (slot: number) => boolean {
  if (own !== undefined) return (slot) => rows.placeOf(slot) > rows.placeOf(own)
  const ids = rows.inOrder().map((slot) => rows.idOf(slot))
  const isAsTheyCame = ids.every((one, at) => at === 0 || one > (ids[at - 1] as number))
  return isAsTheyCame ? (slot) => rows.idOf(slot) > id : (slot) => rows.placeOf(slot) + 1 >= number
}

const isSame = (one: unknown, other: unknown): boolean => JSON.stringify(one) === JSON.stringify(other)

/** Compares the cell of a slot with a value, as rows are sorted by it: values before blanks before errors, either way. */
function comparison(
  engine: Engine,
  { column, cells, ordering, descending }: Key,
  [value, orderedBy]: PageEnd['keys'][number],
): (slot: number) => number {
  const read = (given: PageValue, of: ColumnModel): Cell =>
    readCellValue(given as CellValue, of.type ?? 'text', () => 'the query, field after', engine.surroundings.zone)
  const isFault = typeof value === 'object' && value !== null
  const other = isFault ? null : (read(value ?? null, column) as Scalar | null)
  const otherKey = ordering === null || isFault ? null : (read(orderedBy ?? null, ordering.by) as Scalar | null)
  const rank = isFault ? 2 : other === null ? 1 : 0
  const sign = descending ? -1 : 1
  return (slot) => {
    const own = cells?.read(slot) ?? null
    const byRank = (own instanceof CellFault ? 2 : own === null ? 1 : 0) - rank
    if (byRank !== 0 || rank !== 0) return byRank
    const byKey = ordering === null ? 0 : compareKeys(ordering.lowest.get(own as Scalar)?.lowest ?? null, otherKey)
    return sign * (byKey || compareScalars(own as Scalar, other as Scalar))
  }
}
