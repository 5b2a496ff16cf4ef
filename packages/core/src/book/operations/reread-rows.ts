import type { Cell, CellValue } from '../../columns/index.js'
import { writeCellValue } from '../../columns/index.js'
import { counted, refusal } from '../../findings/index.js'
import { CellFault, printName, Status } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'
import { listIds, type RereadRows, type RowIds, rereadRowsSchema } from '../schemas/index.js'
import type { Transaction } from '../transaction/index.js'
import { defineOperation, touchedRows } from './define.js'
import { insertRows } from './insert-rows.js'
import { moveRows } from './move-rows.js'
import { removeRows } from './remove-rows.js'
import { readCells, recordOf } from './row-cells.js'
import { setCells } from './set-cells.js'

export const rereadRows = defineOperation<RereadRows>({
  schema: rereadRowsSchema,
  touches: touchedRows,
  apply: (transaction, operation) => {
    const table = transaction.names.table(operation.table)
    const columns = Object.entries(operation.block).map(([name, values]) => ({ column: table.column(name), values }))
    if (columns.length === 0)
      throw refusal('bad-operation', { place: 'reread-rows, field block', reason: 'expected at least one column.' })
    const count = columns[0]?.values.length ?? 0
    const uneven = columns.find(({ values }) => values.length !== count)
    if (uneven !== undefined) {
      const reason = `expected ${count} values, received ${uneven.values.length}.`
      throw refusal('bad-operation', { place: `reread-rows, column ${uneven.column.name}`, reason })
    }
    const read = new Map(columns.map(({ column, values }) => [column, readCells(transaction, table, column, values)]))
    const slots = matched(table, keyColumns(table, operation, read), read, count)
    const ids = mergeRows(transaction, table, read, slots, operation)
    // What would be lost was looked for in the columns that the caller sees, and there only.
    const gone = transaction.names === transaction.model ? {} : { gone: operation.gone ?? ('drop' as const) }
    transaction.applied.push({ ...operation, ...gone, ids })
  },
})

type ReadColumns = ReadonlyMap<ColumnModel, readonly Cell[]>

function keyColumns(table: TableModel, { key }: RereadRows, read: ReadColumns): ColumnModel[] | null {
  if (key === undefined) return null
  return key.map((name) => {
    const column = table.column(name)
    if (read.has(column)) return column
    throw refusal('bad-operation', { place: 'reread-rows, field key', reason: `${name} is not among the columns read.` })
  })
}

/** The slot of each row read; undefined for one that is new. */
function matched(
  table: TableModel,
  keys: readonly ColumnModel[] | null,
  read: ReadColumns,
  count: number,
): (number | undefined)[] {
  const inOrder = table.store.rows.inOrder()
  if (keys === null) return Array.from({ length: count }, (_, index) => inOrder[index])
  const known = new Map<string, number[]>()
  for (const slot of inOrder) {
    const text = keyText(keys.map(({ id }) => table.store.column(id)?.read(slot) ?? null))
    const list = known.get(text)
    if (list === undefined) known.set(text, [slot])
    else list.push(slot)
  }
  const taken = new Map<string, number>()
  return Array.from({ length: count }, (_, index) => {
    const text = keyText(keys.map((column) => read.get(column)?.[index] ?? null))
    const place = taken.get(text) ?? 0
    taken.set(text, place + 1)
    return known.get(text)?.[place]
  })
}

function keyText(cells: readonly Cell[]): string {
  return JSON.stringify(cells.map((cell) => (cell instanceof CellFault ? { fault: cell.code, text: cell.text } : cell)))
}

/** Writes, inserts and removes what differs, each as the operation that does just that. Gives the ids of the new rows. */
function mergeRows(
  transaction: Transaction,
  table: TableModel,
  read: ReadColumns,
  slots: readonly (number | undefined)[],
  { ids, gone: fate, order }: RereadRows,
): RowIds {
  const { rows } = table.store
  const place = { table: table.name }
  const already = transaction.applied.length
  const kept = new Set(slots)
  const missing = fate === 'keep' ? [] : [...rows.inOrder()].filter((slot) => !kept.has(slot))
  if (fate === undefined && !transaction.isUndoRedo) refuseTypedValues(table, read, missing)
  const gone = missing.map((slot) => rows.idOf(slot))
  const cells: { row: number; column: string; value: CellValue }[] = []
  const fresh = [...slots.keys()].filter((index) => slots[index] === undefined)
  const block = new Map<string, CellValue[]>()
  for (const [column, list] of read) {
    const storage = table.store.column(column.id)
    const type = column.type ?? 'text'
    for (const [index, slot] of slots.entries()) {
      const cell = list[index] ?? null
      if (slot === undefined || isSame(storage?.read(slot) ?? null, cell)) continue
      cells.push({ row: rows.idOf(slot), column: column.name, value: writeCellValue(cell, type) })
    }
    block.set(
      column.name,
      fresh.map((index) => writeCellValue(list[index] ?? null, type)),
    )
  }
  if (cells.length > 0) setCells.apply(transaction, { op: 'set-cells', ...place, cells })
  if (gone.length > 0) removeRows.apply(transaction, { op: 'remove-rows', ...place, rows: gone })
  if (fresh.length > 0)
    insertRows.apply(transaction, {
      op: 'insert-rows',
      ...place,
      block: recordOf(block),
      count: fresh.length,
      ...(ids !== undefined && { ids }),
    })
  const made = transaction.applied.slice(already).find((one) => one.op === 'insert-rows')
  const madeIds = made?.op === 'insert-rows' ? (made.ids ?? []) : []
  if (order === 'source') moveAsRead(transaction, table, slots, listIds(madeIds))
  // What is repeated elsewhere is the reading as a whole, not the parts that it came to here.
  transaction.applied.length = already
  return madeIds
}

/** Puts rows in the order in which they were read; those that were not stand behind them. */
function moveAsRead(
  transaction: Transaction,
  table: TableModel,
  slots: readonly (number | undefined)[],
  made: readonly number[],
): void {
  const { rows } = table.store
  let fresh = 0
  const wanted = slots.map((slot) => (slot === undefined ? (made[fresh++] as number) : rows.idOf(slot)))
  const read = new Set(wanted)
  for (const slot of rows.inOrder()) if (!read.has(rows.idOf(slot))) wanted.push(rows.idOf(slot))
  const isThere = rows.inOrder().every((slot, index) => rows.idOf(slot) === wanted[index])
  if (!isThere) moveRows.apply(transaction, { op: 'move-rows', table: table.name, rows: wanted })
}

/** Rows named in a refusal. */
const MOST_NAMED = 5

/** Refuses to let rows go that hold values which their source never had. */
function refuseTypedValues(table: TableModel, read: ReadColumns, missing: readonly number[]): void {
  const own = table.columns.filter(
    (column) => column.formula === null && column.properties.stamp === undefined && !read.has(column),
  )
  const holds =
    (slot: number) =>
    (column: ColumnModel): boolean =>
      (table.store.column(column.id)?.statusAt(slot) ?? Status.blank) !== Status.blank
  const lost = missing.filter((slot) => own.some(holds(slot)))
  if (lost.length === 0) return
  const columns = own.filter((column) => lost.some((slot) => holds(slot)(column))).map(({ name }) => printName(name))
  const named = lost.slice(0, MOST_NAMED).map((slot) => `row ${table.store.rows.placeOf(slot) + 1}`)
  if (lost.length > named.length) named.push(`${lost.length - named.length} more`)
  const rows = counted(lost.length, 'row')
  const parameters = { rows, table: printName(table.name), columns: columns.join(', '), named: named.join(', ') }
  throw refusal('typed-values-lost', parameters, { table: table.name, rows: lost.length })
}

function isSame(left: Cell, right: Cell): boolean {
  if (left instanceof CellFault && right instanceof CellFault) return left.code === right.code && left.text === right.text
  return left === right
}
