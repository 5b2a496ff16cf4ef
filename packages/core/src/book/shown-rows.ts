import { columnOfCells } from '../columns/index.js'
import { refusal } from '../findings/index.js'
import { printName } from '../values/index.js'
import { type RowsTable, showCell } from './model/index.js'
import { type Outline, outlined, parentsOf, type Query, type QueryColumn, type QueryResult, runQuery } from './queries/index.js'
import { type SlimView, stateOf } from './slim-view.js'

/** Rows for people: with their numbers, and below their parents. */
export interface ShownQuery extends Query {
  /** Whether a first column `row` has the number of each row in its table, from 1. */
  readonly rowNumbers?: boolean
  /** Whether rows stand below their parents, in a table that has a parent column; `order` is then that of siblings. */
  readonly outline?: boolean
  /** Of an outline, how many levels of rows are given; all when left out. */
  readonly fold?: number
}

/** Rows found for people. */
export interface ShownRows extends QueryResult {
  /** How deep each row stands in the outline, from 0; null where it is none. */
  readonly depths: Int32Array | null
}

/**
 * Rows of a table as `query` finds them, for people to look at.
 *
 * @throws Refusal as `query` does, and for row numbers of a table that has a column of their name
 */
export function shownRowsOf(book: SlimView, { rowNumbers, outline, fold, ...query }: ShownQuery): ShownRows {
  const { model, engine } = stateOf(book)
  const table = model.table(query.table)
  const parents = outline === true ? parentsOf(engine, table) : null
  const { offset = 0, limit = Number.POSITIVE_INFINITY, ...whole } = query
  const found = runQuery(model, engine, parents === null ? query : whole)
  const laid = parents === null ? null : foldedOutline(outlined(found.slots, parents), fold)
  const slots = laid === null ? found.slots : laid.slots.slice(offset, offset + limit)
  const columns = rowNumbers === true ? [numbersOf(table, slots), ...found.columns] : found.columns
  const { rows } = table.store
  return {
    ...found,
    columns,
    slots,
    matched: laid?.slots.length ?? found.matched,
    ids: laid === null ? found.ids : () => rows.idsOf(slots),
    rows: () =>
      Array.from(slots, (slot) => columns.map(({ storage, type }) => showCell(storage?.read(slot) ?? null, type ?? 'text'))),
    depths: laid?.depths.slice(offset, offset + limit) ?? null,
  }
}

/** An outline without the rows that stand too deep. */
function foldedOutline(whole: Outline, fold = Number.POSITIVE_INFINITY): Outline {
  if (fold === Number.POSITIVE_INFINITY) return whole
  const kept = [...whole.slots.keys()].filter((at) => (whole.depths[at] as number) < fold)
  const pick = (list: Int32Array): Int32Array => Int32Array.from(kept, (at) => list[at] as number)
  return { slots: pick(whole.slots), depths: pick(whole.depths) }
}

/** What the column of row numbers is called. */
const NUMBERS = 'row'

/** The numbers of rows as a column. */
function numbersOf(table: RowsTable, slots: Int32Array): QueryColumn {
  if (table.find(NUMBERS) !== undefined) {
    const place = `Table ${printName(table.name)}`
    throw refusal('name-taken', { place, kind: 'column', name: NUMBERS }, { table: table.name, column: NUMBERS })
  }
  const { rows } = table.store
  const numbers = new Map(Array.from(slots, (slot) => [slot, rows.placeOf(slot) + 1]))
  const storage = columnOfCells('integer', rows.slotCount, (slot) => numbers.get(slot) ?? null)
  return { name: NUMBERS, type: 'integer', calculated: true, state: null, unit: null, properties: {}, storage }
}
