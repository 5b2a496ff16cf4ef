import type { Cell } from '../../columns/index.js'
import { writeCellValue } from '../../columns/index.js'
import { refusal } from '../../findings/index.js'
import { CellFault, displayScalar, printName, type Scalar, type ValueType } from '../../values/index.js'
import type { ColumnModel, ColumnProperties, TableModel } from '../model/index.js'
import { fitText, orderKeyOf, readCellValue } from '../model/index.js'
import { changeColumnSchema, type JournaledChangeColumn } from '../schemas/index.js'
import { storageOf, type Transaction } from '../transaction/index.js'
import { refuseBadDisplay } from './column-spec.js'
import { defineOperation } from './define.js'

export const changeColumn = defineOperation<JournaledChangeColumn>({
  schema: changeColumnSchema,
  apply: (transaction, operation) => {
    const table = transaction.model.table(operation.table)
    const column = table.column(operation.column)
    const { type, formula, orderKey, ...properties } = operation.set
    const isSource = column.formula === null && column.paused === null
    if (formula !== undefined && isSource && operation.reattach !== true) {
      const count = table.store.column(column.id)?.valueCount ?? 0
      throw refusal('column-has-values', { name: printName(column.name), count }, { table: table.name, column: column.name })
    }
    const { display } = properties
    if (display != null || (type != null && display === undefined))
      refuseBadDisplay(transaction, table, {
        name: column.name,
        type: type ?? column.type,
        properties: { ...column.properties, ...(display != null && { display }) },
      })
    const former: Former = { op: 'change-column', table: table.name, column: column.name, set: {} }
    if (formula !== undefined && column.paused !== null) {
      former.set.formula = column.paused.formula.text
      column.setPaused({ ...column.paused, formula: { text: formula, checked: null } })
      transaction.setAside.add(column)
    } else if (formula !== undefined && column.formula === null) return reattach(transaction, table, column, operation)
    if (formula !== undefined && column.formula !== null) {
      former.set.formula = column.formula.text
      transaction.noteUnit(column, () => column.setFormula(formula))
      transaction.unbound.set(column, table)
    }
    if (type !== undefined) changeType(transaction, table, column, type, operation, former)
    transaction.noteUnit(column, () => {
      Object.assign(former.set, changeProperties(column, properties))
    })
    Object.assign(former.set, changeOrderKey(transaction, table, column, orderKey))
    if (properties.tags !== undefined) transaction.recheckTags(table)
    // Units, choices and who sees it are what some findings go by.
    if (['unit', 'choices', 'hiddenFrom'].some((name) => name in properties)) transaction.recheckReaders(column)
    transaction.applied.push(operation)
    transaction.undoWith(former)
  },
})

/** Gives a detached column its formula back; the way back is to detach it again. */
function reattach(transaction: Transaction, table: TableModel, column: ColumnModel, operation: JournaledChangeColumn): void {
  column.setFormula(operation.set.formula as string)
  if (operation.set.type === null) column.retype(column.type, false)
  transaction.unbound.set(column, table)
  transaction.applied.push(operation)
  transaction.undoWith({ op: 'detach-column', table: table.name, column: column.name })
}

function changeOrderKey(
  { findingsDue }: Transaction,
  table: TableModel,
  column: ColumnModel,
  name: string | null | undefined,
): object {
  if (name === undefined) return {}
  const former = orderKeyOf(table, column)?.name ?? null
  const { orderKey: _, ...others } = column.properties
  column.properties = { ...others, ...(name !== null && { orderKey: table.column(name).id }) }
  findingsDue.add(column)
  return { orderKey: former }
}

function changeProperties(
  column: ColumnModel,
  changes: Omit<JournaledChangeColumn['set'], 'type' | 'formula' | 'orderKey'>,
): object {
  const before = new Map(Object.entries(column.properties))
  const after = new Map(before)
  const former: Record<string, unknown> = {}
  for (const [name, value] of Object.entries(changes)) {
    if (value === undefined) continue
    former[name] = before.get(name) ?? null
    if (value === null) after.delete(name)
    else after.set(name, value)
  }
  column.properties = Object.fromEntries(after) as ColumnProperties
  return former
}

/** What takes a change back, while it is being put together. */
type Former = { -readonly [Field in keyof JournaledChangeColumn]: JournaledChangeColumn[Field] }

function changeType(
  transaction: Transaction,
  table: TableModel,
  column: ColumnModel,
  type: ValueType | null,
  operation: JournaledChangeColumn,
  former: Former,
): void {
  former.set.type = column.formula !== null && !column.declared ? null : column.type
  // What can still be refused goes first.
  if (column.formula === null) convertCells(transaction, table, column, type, operation, former)
  else {
    if (type !== null) column.retype(type)
    transaction.unbound.set(column, table)
  }
  column.retype(column.type, type !== null)
}

function convertCells(
  transaction: Transaction,
  table: TableModel,
  column: ColumnModel,
  type: ValueType | null,
  operation: JournaledChangeColumn,
  former: Former,
): void {
  const { store } = table
  const slots = store.rows.inOrder()
  const storage = store.column(column.id)
  const cells = Array.from(slots, (slot) => storage?.read(slot) ?? null)
  if (storage !== undefined) former.values = cells.map((cell) => writeCellValue(cell, storage.type))
  if (type === null) {
    if (cells.some((cell) => cell !== null))
      throw refusal('bad-operation', {
        place: 'change-column, field type',
        reason: `${printName(column.name)} has values, so it has a type.`,
      })
    store.dropColumn(column.id)
  } else {
    const { zone } = transaction.engine.surroundings
    const { values } = operation
    if (values !== undefined && values.length !== slots.length)
      throw refusal('bad-operation', {
        place: 'change-column, field values',
        reason: `expected ${slots.length} values, received ${values.length}.`,
      })
    const converted =
      values?.map((value) => readCellValue(value, type, () => `${table.name}.${column.name}`, zone)) ??
      cells.map((cell) => convert(cell, storage?.type ?? type, type, zone))
    store.makeColumn(column.id, type)
    const made = storageOf(store, column)
    for (const [index, slot] of slots.entries()) made.write(slot, converted[index] as Cell)
    for (const slot of slots) transaction.dirtyIn(table).touchCell(column.id, slot)
  }
  column.retype(type)
  transaction.retyped.add(column)
}

/** A cell in another type: by its text, so that "12.5" becomes 12.5 and back; what does not fit keeps its text as a misfit. */
function convert(cell: Cell, from: ValueType, to: ValueType, zone: string): Cell {
  if (cell === null) return null
  const text = cell instanceof CellFault ? (cell.text ?? '') : plainText(cell, from)
  return fitText(text, to, zone) ?? new CellFault('misfit', text)
}

function plainText(value: Scalar, type: ValueType): string {
  return typeof value === 'number' && (type === 'number' || type === 'integer') ? String(value) : displayScalar(value, type)
}
