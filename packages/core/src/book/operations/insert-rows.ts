import type { CellValue } from '../../columns/index.js'
import { type Cell, Column, columnOfCells } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import type { ColumnId } from '../../formula/index.js'
import { printName, Status } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'
import {
  blockEntries,
  carriedBlock,
  type GivenCells,
  insertRowsSchema,
  isNumberArray,
  type JournaledInsertRows,
  listIds,
  MOST_NEW_ROWS,
  MOST_ROWS,
  packIds,
} from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'
import { columnOfNumbers } from './column-of-numbers.js'
import { defineOperation, touchedRows } from './define.js'
import { cellReader, giveType, markTyped, refuseUnwritable } from './row-cells.js'

export const insertRows = defineOperation<JournaledInsertRows>({
  schema: insertRowsSchema,
  touches: touchedRows,
  apply: (transaction, operation) => {
    const table = transaction.names.table(operation.table)
    const { store } = table
    const entries = columnEntries(table, operation)
    const given = operation.ids === undefined ? undefined : listIds(operation.ids)
    const count = rowCountOf(operation, entries)
    refuseTooMany(table, count)
    refuseBadIds(table, given, count)
    const places = placesOf(table, operation, count)
    if (count === 0) {
      transaction.applied.push(operation)
      return
    }
    const adopts = store.rows.slotCount === 0 && places === undefined
    const adopted = new Map<ColumnId, Column>()
    const cells = new Map<ColumnModel, Cell[]>()
    for (const [column, values] of entries) {
      if (values instanceof Column) refuseHalves(table, column, values)
      if (adopts && values instanceof Column && (column.type === null || column.type === values.type))
        adopted.set(column.id, adopt(transaction, table, column, values))
      else {
        const read = reader(transaction, table, column, values)
        // The first rows of a table come as finished storage too, which takes least.
        if (adopts && column.type !== null) adopted.set(column.id, columnOfCells(column.type, count, read))
        else
          cells.set(
            column,
            Array.from({ length: count }, (_, index) => read(index)),
          )
      }
    }
    const slots = store.rows.insert(count, places, given)
    store.occupy(slots, new Set(adopted.keys()))
    for (const [id, column] of adopted) store.adoptColumn(id, column)
    for (const [column, list] of cells) {
      const storage = store.column(column.id)
      for (const [index, slot] of slots.entries()) storage?.write(slot, list[index] as Cell)
    }
    transaction.noteInserted(table, slots)
    const ids = slots.map((slot) => store.rows.idOf(slot))
    // Rows that come back bring the marks they had.
    if (!transaction.isUndoRedo)
      for (const column of entries.keys())
        if (column.paused !== null)
          markTyped(
            column,
            ids.filter((_, index) => store.column(column.id)?.statusAt(slots[index] as number) !== Status.blank),
          )
    const packed = packIds(ids)
    transaction.applied.push({ ...carried(operation, entries, adopted), ids: packed })
    transaction.undoWith({ op: 'remove-rows', table: table.name, rows: packed })
  },
})

/** Fewer rows stay records where they come as such, which is easier to read. */
const FEWEST_AS_BLOCK = 100

/** The operation with copies of what was given, which may change in the hands of the giver; storage takes least. */
function carried(
  { rows, block, ...operation }: JournaledInsertRows,
  entries: ReadonlyMap<ColumnModel, GivenCells | Column>,
  adopted: ReadonlyMap<ColumnId, Column>,
): JournaledInsertRows {
  if (rows === undefined && block === undefined) return operation
  if (rows !== undefined && (rows.length < FEWEST_AS_BLOCK || adopted.size === 0))
    return { ...operation, rows: rows.map((row) => ({ ...row })) }
  const cells = [...entries].map(
    ([{ id, name }, given]) => [name, adopted.get(id)?.fork() ?? (given instanceof Column ? given : given.slice())] as const,
  )
  return { ...operation, block: carriedBlock(cells) }
}

function refuseHalves(table: TableModel, { name }: ColumnModel, values: Column): void {
  if (values.hasWellFormedTexts()) return
  const reason = 'a text of it has half of a character.'
  throw refusal('bad-operation', { place: `insert-rows, column ${printName(name)}`, reason }, { table: table.name, column: name })
}

/** Gives the cells of one column of the new rows; those of finished storage of the same type are what they are. */
function reader(
  transaction: Transaction,
  table: TableModel,
  column: ColumnModel,
  values: GivenCells | Column,
): (index: number) => Cell {
  if (!(values instanceof Column)) return cellReader(transaction, table, column, values)
  if (column.type !== values.type) return cellReader(transaction, table, column, values.toJSON())
  refuseUnwritable(transaction, table, column)
  return (slot) => values.read(slot)
}

function adopt(transaction: Transaction, table: TableModel, column: ColumnModel, values: Column): Column {
  refuseUnwritable(transaction, table, column)
  if (column.type === null) giveType(transaction, table, column, values.type)
  // What was given stays as it is, whatever becomes of the rows.
  return values.fork()
}

/** The values given, by column: rows turned into columns where they came as records. */
function columnEntries(table: TableModel, operation: JournaledInsertRows): Map<ColumnModel, GivenCells | Column> {
  if (operation.rows !== undefined && operation.block !== undefined)
    throw refusal('bad-operation', { place: 'insert-rows', reason: 'give rows or a block, not both.' })
  if (operation.block !== undefined)
    return new Map(
      blockEntries(operation.block).map(([name, values]) => {
        const column = table.column(name)
        return [column, isNumberArray(values) ? columnOfNumbers(values, column.type) : values]
      }),
    )
  const rows = operation.rows ?? []
  const columns = new Map<ColumnModel, (CellValue | undefined)[]>()
  // By name as the rows write it, so that a name is looked up once, not once a row.
  const byName = new Map<string, (CellValue | undefined)[]>()
  const begin = (name: string): (CellValue | undefined)[] => {
    const column = table.column(name)
    const values = columns.get(column) ?? new Array<CellValue | undefined>(rows.length).fill(null)
    columns.set(column, values)
    byName.set(name, values)
    return values
  }
  rows.forEach((row, index) => {
    for (const name of Object.keys(row)) {
      const values = byName.get(name) ?? begin(name)
      values[index] = row[name]
    }
  })
  return columns
}

function rowCountOf(operation: JournaledInsertRows, entries: ReadonlyMap<ColumnModel, GivenCells | Column>): number {
  if (operation.rows !== undefined) return operation.rows.length
  let count = operation.count ?? (operation.ids === undefined ? undefined : listIds(operation.ids).length)
  for (const [column, values] of entries) {
    const length = values instanceof Column ? values.valueCount + values.blankCount + values.faultCount() : values.length
    count ??= length
    if (length !== count)
      throw refusal('bad-operation', {
        place: `insert-rows, column ${column.name}`,
        reason: `expected ${count} values, received ${length}.`,
      })
  }
  return count ?? 0
}

function refuseTooMany(table: TableModel, count: number): void {
  const all = table.store.rows.rowCount + count
  if (count <= MOST_NEW_ROWS && all <= MOST_ROWS) return
  const most =
    count > MOST_NEW_ROWS ? `one operation makes at most ${counted(MOST_NEW_ROWS)}` : `a table has at most ${counted(MOST_ROWS)}`
  throw refusal('bad-operation', { place: 'insert-rows', reason: `${most} rows.` }, { table: table.name })
}

const counted = (count: number): string => count.toLocaleString('en')

function refuseBadIds(table: TableModel, ids: readonly number[] | undefined, count: number): void {
  if (ids === undefined) return
  if (ids.length !== count || new Set(ids).size !== count)
    throw refusal('bad-operation', {
      place: 'insert-rows, field ids',
      reason: `expected ${count} different ids, received ${ids.length}.`,
    })
  const most = table.store.rows.nextId + MOST_ROWS
  const stray = ids.find((id) => id > most)
  if (stray !== undefined)
    throw refusal('bad-operation', { place: 'insert-rows, field ids', reason: `expected ids up to ${most}, received ${stray}.` })
  const taken = ids.find((id) => table.store.rows.slotOf(id) !== undefined)
  if (taken !== undefined)
    throw refusal('bad-operation', { place: 'insert-rows, field ids', reason: `there is a row with id ${taken} already.` })
}

/** Places of the new rows from 0, or undefined for the end. */
function placesOf(table: TableModel, operation: JournaledInsertRows, count: number): number[] | undefined {
  const { rows } = table.store
  if (operation.places !== undefined) {
    const { places } = operation
    const ascending = places.every((place, index) => index === 0 || place > (places[index - 1] as number))
    if (places.length !== count || !ascending || (places.at(-1) ?? 0) > rows.rowCount + count) {
      throw refusal('bad-operation', { place: 'insert-rows, field places', reason: `expected ${count} ascending row numbers.` })
    }
    return places.map((place) => place - 1)
  }
  if (operation.before === undefined) return undefined
  const slot = rows.slotOf(operation.before)
  if (slot === undefined) throw refusal('unknown-row', { table: table.name, row: operation.before }, { table: table.name })
  const first = rows.placeOf(slot)
  return Array.from({ length: count }, (_, index) => first + index)
}
