import type { Cell, CellValue } from '../../columns/index.js'
import { writeCellValue } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import { printName, type ValueType } from '../../values/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'
import { readCellValue, typeOfValue } from '../model/index.js'
import type { Transaction } from '../transaction/index.js'

/** Refuses to write a calculated column, and a stamp; what a step back or forth brings is what was there. */
export function refuseUnwritable({ isUndoRedo, mayDefine }: Transaction, table: TableModel, column: ColumnModel): void {
  const { stamp, fixed } = column.properties
  if ((stamp !== undefined || (fixed === true && !mayDefine)) && !isUndoRedo)
    throw refusal(
      stamp === undefined ? 'fixed-cell' : 'stamped-cell',
      { name: printName(column.name) },
      { table: table.name, column: column.name },
    )
  const { formula } = column
  if (formula === null && !(column.isWithheld && column.isCalculated)) return
  const parameters = { name: printName(column.name), formula: formula?.text ?? 'withheld.' }
  throw refusal('calculated-cell', parameters, { table: table.name, column: column.name })
}

/** Marks cells of a paused column as typed by hand; a step back brings the marks of before. */
export function markTyped({ paused }: ColumnModel, ids: Iterable<number>, isTyped = true): void {
  if (paused === null) return
  for (const id of ids) {
    if (isTyped) paused.typed.add(id)
    else paused.typed.delete(id)
  }
}

/** Gives a column without a type the type of a value; undoing takes it back. */
export function takeType(transaction: Transaction, table: TableModel, column: ColumnModel, value: unknown): ValueType | null {
  if (column.type !== null) return column.type
  const type = typeOfValue(value as CellValue)
  if (type === null) return null
  giveType(transaction, table, column, type)
  return type
}

/** Gives a column that has no type one, and storage for it; undoing takes it back. */
export function giveType(
  transaction: Transaction,
  table: TableModel,
  column: ColumnModel,
  type: ValueType,
  declared: boolean = false,
): void {
  column.retype(type, declared)
  table.store.makeColumn(column.id, type)
  transaction.retyped.add(column)
  transaction.undoWith({ op: 'change-column', table: table.name, column: column.name, set: { type: null } })
}

/** Reads the values of one column of new rows; an untyped column takes the type of the first value. */
export function readCells(transaction: Transaction, table: TableModel, column: ColumnModel, values: readonly unknown[]): Cell[] {
  const read = cellReader(transaction, table, column, values)
  return Array.from({ length: values.length }, (_, index) => read(index))
}

/** Reads the same one by one. */
export function cellReader(
  transaction: Transaction,
  table: TableModel,
  column: ColumnModel,
  values: readonly unknown[],
): (index: number) => Cell {
  refuseUnwritable(transaction, table, column)
  const type = column.type ?? takeType(transaction, table, column, sampleOf(values)) ?? 'text'
  const { zone } = transaction.engine.surroundings
  let at = 0
  const place = (): string => `${table.name}.${column.name}, row ${at + 1} of the operation,`
  return (index) => {
    at = index
    return readCellValue(values[index], type, place, zone)
  }
}

/** The value that says the type of a column: the first that is no misfit, which says only that its text is to be kept. */
function sampleOf(values: readonly unknown[]): unknown {
  const isFilled = (value: unknown): boolean => value !== null && value !== undefined
  return values.find((value) => isFilled(value) && typeof value !== 'object') ?? values.find(isFilled) ?? null
}

/** The source cells of some rows, as the operation that would bring them back carries them. */
export function sourceBlock(table: TableModel, slots: readonly number[]): Record<string, CellValue[]> {
  const block = new Map<string, CellValue[]>()
  for (const column of table.columns) {
    const storage = table.store.column(column.id)
    if (column.formula !== null || storage === undefined) continue
    block.set(
      column.name,
      slots.map((slot) => writeCellValue(storage.read(slot), storage.type)),
    )
  }
  return recordOf(block)
}

/** A record with own properties only, so that a column called `__proto__` is a name like any other. */
export function recordOf<Value>(entries: Iterable<readonly [string, Value]>): Record<string, Value> {
  return Object.fromEntries(entries)
}
