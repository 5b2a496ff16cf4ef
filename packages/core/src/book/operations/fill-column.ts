import type { Cell } from '../../columns/index.js'
import { writeCellValue } from '../../columns/index.js'
import { counted, type Finding, finding, Refusal, refusal } from '../../findings/index.js'
import {
  type CheckedFormula,
  checkFormula,
  type ExpressionType,
  expressionType,
  parseFormula,
  typeWords,
} from '../../formula/index.js'
import { CellFault, type FaultCode, isWhole, MS_PER_DAY, printName, type ValueType } from '../../values/index.js'
import { causeOfError, errorFinding } from '../diagnostics/index.js'
import type { ColumnModel, TableModel } from '../model/index.js'
import { readCellValue, scopeOf } from '../model/index.js'
import { cellsOfPlan } from '../queries/index.js'
import { fillColumnSchema, type JournaledFillColumn } from '../schemas/index.js'
import { storageOf, type Transaction } from '../transaction/index.js'
import { defineOperation } from './define.js'
import { giveType, markTyped, refuseUnwritable } from './row-cells.js'

export const fillColumn = defineOperation<JournaledFillColumn>({
  schema: fillColumnSchema,
  touches: (_, { table, column }, names) => [names.find(table)?.find(column)?.id ?? []].flat(),
  apply: (transaction, operation) => {
    const table = transaction.names.table(operation.table)
    const column = table.column(operation.column)
    refuseUnwritable(transaction, table, column)
    const slots = table.store.rows.inOrder()
    const { formula, values } = operation
    if ((formula === undefined) === (values === undefined))
      throw refusal('bad-operation', { place: 'fill-column', reason: 'give a formula or values.' })
    const cells =
      formula === undefined
        ? given(transaction, table, column, operation, slots.length)
        : calculated(transaction, table, column, formula)
    const typed = column.paused === null ? undefined : [...column.paused.typed]
    if (column.type !== null) write(transaction, table, column, slots, cells, typed)
    if (operation.typed !== undefined && column.paused !== null) {
      column.paused.typed.clear()
      markTyped(column, operation.typed)
    } else
      markTyped(
        column,
        Array.from(slots, (slot) => table.store.rows.idOf(slot)),
      )
    transaction.applied.push(transaction.names === transaction.model ? operation : filledWith(operation, table, column, cells))
  },
})

/** The same with the values that came out: the formula may mean more to someone from whom less is hidden. */
function filledWith(
  { op, table }: JournaledFillColumn,
  { store }: TableModel,
  column: ColumnModel,
  cells: readonly Cell[],
): JournaledFillColumn {
  const type = store.column(column.id)?.type ?? 'text'
  return { op, table, column: column.name, values: cells.map((cell) => writeCellValue(cell, type)) }
}

function write(
  transaction: Transaction,
  table: TableModel,
  column: ColumnModel,
  slots: Int32Array,
  cells: readonly Cell[],
  typed: readonly number[] | undefined,
): void {
  const storage = storageOf(table.store, column)
  const former = Array.from(slots, (slot) => writeCellValue(storage.read(slot), storage.type))
  const dirty = transaction.dirtyIn(table)
  for (const [index, slot] of slots.entries()) {
    storage.write(slot, cells[index] ?? null)
    dirty.touchCell(column.id, slot)
  }
  transaction.noteFilled(table, column, slots, former)
  transaction.undoWith({
    op: 'fill-column',
    table: table.name,
    column: column.name,
    values: former,
    ...(typed !== undefined && { typed: [...typed] }),
  })
}

function given(
  { engine }: Transaction,
  table: TableModel,
  column: ColumnModel,
  { values = [] }: JournaledFillColumn,
  count: number,
): Cell[] {
  if (values.length !== count) {
    const reason = `expected ${count} values, received ${values.length}.`
    throw refusal('bad-operation', { place: 'fill-column, field values', reason })
  }
  const place = (): string => `${table.name}.${column.name}`
  return values.map((value) => readCellValue(value, column.type ?? 'text', place, engine.surroundings.zone))
}

/** What a formula gives, in row order. Refused where it does not fit the column, or fails on a row. */
function calculated(transaction: Transaction, table: TableModel, column: ColumnModel, formula: string): Cell[] {
  const { names, engine } = transaction
  if (transaction.unbound.size > 0) {
    const reason = 'a formula that comes with the same call is not calculated yet; fill with a call of its own.'
    throw refusal('bad-operation', { place: 'fill-column', reason }, { table: table.name, column: column.name })
  }
  transaction.bringUpAll()
  const checked = checkFormula(parseFormula(formula), scopeOf(names, table))
  const place = { table: table.name, column: column.name }
  const [first, ...others] = [...checked.findings, ...misfitting(table, column, checked)]
    .filter(({ severity }) => severity === 'error')
    .map((one) => ({ ...one, ...place }))
  if (first !== undefined) throw new Refusal([first, ...others])
  takeTypeOf(transaction, table, column, checked)
  const bySlot = cellsOfPlan(engine, table, engine.compile(checked))
  const cells = Array.from(table.store.rows.inOrder(), (slot) => bySlot[slot] ?? null)
  refuseErrors(transaction, table, { id: column.id, name: column.name, formula: { text: formula, checked } }, cells)
  if (column.type === 'integer') refuseFractions(table, column, cells)
  return column.type === 'datetime' && checked.expression.type === 'date' ? cells.map(atMidnight) : cells
}

const atMidnight = (cell: Cell): Cell => (typeof cell === 'number' ? cell * MS_PER_DAY : cell)

/** A formula of another type than the column. */
function misfitting(table: TableModel, column: ColumnModel, { expression }: CheckedFormula): Finding[] {
  const { type, from, to } = expression
  if (column.type === null || type === 'blank' || type === 'unknown' || fits(type, column.type)) return []
  const operation = { op: 'change-column', table: table.name, column: column.name, set: { type } }
  const fixes = [{ title: `Make ${column.name} a ${type} column`, operations: [operation] }]
  const parameters = {
    place: `The column ${printName(column.name)}`,
    expected: typeWords(expressionType(column.type)),
    received: typeWords(type),
  }
  return [finding('type-mismatch', parameters, { from, to, fixes })]
}

function fits(type: ExpressionType, into: ValueType): boolean {
  return type === into || (type === 'number' && into === 'integer') || (type === 'date' && into === 'datetime')
}

/** A column without a type takes the one of the formula. */
function takeTypeOf(transaction: Transaction, table: TableModel, column: ColumnModel, { expression }: CheckedFormula): void {
  const { type } = expression
  if (column.type !== null || type === 'blank' || type === 'unknown') return
  giveType(transaction, table, column, type)
}

function refuseErrors(
  { names, engine }: Transaction,
  table: TableModel,
  column: Parameters<typeof causeOfError>[2]['column'],
  cells: readonly Cell[],
): void {
  const counts = new Map<FaultCode, number>()
  let first = -1
  for (const [index, cell] of cells.entries()) {
    if (!(cell instanceof CellFault)) continue
    if (first < 0) first = index
    counts.set(cell.code, (counts.get(cell.code) ?? 0) + 1)
  }
  if (first < 0) return
  const slot = table.store.rows.slotAt(first) as number
  const cause = causeOfError(names, engine, { table, column }, slot, (cells[first] as CellFault).code)
  throw new Refusal([{ ...errorFinding(table, column.name, counts, ` ${cause}`), table: table.name, column: column.name }])
}

function refuseFractions(table: TableModel, column: ColumnModel, cells: readonly Cell[]): void {
  const fitsWhole = (cell: Cell): boolean => typeof cell !== 'number' || isWhole(cell)
  const wrong = cells.filter((cell) => !fitsWhole(cell))
  if (wrong.length === 0) return
  const operation = { op: 'change-column', table: table.name, column: column.name, set: { type: 'number' } }
  const fixes = [{ title: `Make ${column.name} a number column`, operations: [operation] }]
  const count = counted(wrong.length, 'cell')
  const place = { table: table.name, column: column.name, rows: wrong.length, fixes }
  throw new Refusal([finding('fractions', { count, name: printName(column.name) }, place)])
}
