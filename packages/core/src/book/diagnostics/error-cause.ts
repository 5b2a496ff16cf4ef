import type { Engine, OverRows } from '../../engine/index.js'
import { type Checked, type ColumnId, columnsOfRowsRead, partsOf, withoutSteps } from '../../formula/index.js'
import { CellFault, displayScalar, type FaultCode, printName, statusOfFault } from '../../values/index.js'
import type { ColumnModel, Model, TableModel } from '../model/index.js'

/** A column that holds an error, or a formula that would. */
export interface FaultyColumn {
  readonly table: TableModel
  readonly column: Pick<ColumnModel, 'id' | 'name' | 'formula'>
}

/** A cell with an error. */
interface FaultyCell {
  readonly owned: FaultyColumn
  readonly slot: number
}

/** Columns that are gone through on the way to a cause; a chain that is longer is told of as far as that. */
const MOST_STEPS = 1_000
/** Values of the row that are quoted where a formula makes an error by itself. */
const MOST_QUOTED = 3

/**
 * Says in a sentence where the error of a cell comes from: the cell, maybe of another table, that was typed or read so, or the
 * formula that makes it of good values.
 */
export function causeOfError(model: Model, engine: Engine, owned: FaultyColumn, slot: number, code: FaultCode): string {
  const start = { owned, slot }
  const first = owned.table.role === 'rows' ? `The first, in row ${rowNumber(start)}, ` : 'It '
  let at: FaultyCell = start
  for (let steps = 0; steps < MOST_STEPS; steps++) {
    const source = sourceOf(model, engine, at, code)
    if (source === null) break
    at = source
  }
  const place = `${addressText(at)}${at.owned.table.role === 'rows' ? `, row ${rowNumber(at)}` : ''}`
  if (at.owned.column.formula === null) return `${first}comes from ${place}, which ${holds(at)}.`
  const values = quoted(at)
  const made = `${at.owned.column.formula.text}${values === '' ? '' : ` where ${values}`}`
  return at === start ? `${first}is ${made}.` : `${first}comes from ${place}: ${made}.`
}

function faultAt({ owned: { table, column }, slot }: FaultyCell): CellFault | null {
  const cell = table.store.column(column.id)?.read(slot) ?? null
  return cell instanceof CellFault ? cell : null
}

const rowNumber = ({ owned: { table }, slot }: FaultyCell): string =>
  (table.store.rows.placeOf(slot) + 1).toLocaleString('en', { useGrouping: false })

function addressText({ owned: { table, column } }: FaultyCell): string {
  const name = printName(column.name)
  return table.role === 'values' ? name : `${printName(table.name)}.${name}`
}

function holds(at: FaultyCell): string {
  const fault = faultAt(at)
  const text = fault?.text
  if (text === undefined) return `holds the error ${fault?.code}`
  return `holds ${JSON.stringify(text.length > 40 ? `${text.slice(0, 39)}…` : text)}`
}

/** What the formula reads of its own row, as far as it helps to see why it fails. */
function quoted({ owned: { table, column }, slot }: FaultyCell): string {
  const expression = column.formula?.checked?.expression
  if (expression === undefined) return ''
  const values = columnsNamed(expression)
    .slice(0, MOST_QUOTED)
    .flatMap((id) => {
      const read = table.withId(id)
      const storage = table.store.column(id)
      if (read === undefined || storage === undefined) return []
      const cell = storage.read(slot)
      const text = cell === null ? 'blank' : cell instanceof CellFault ? String(cell) : displayScalar(cell, storage.type)
      const isText = typeof cell === 'string'
      return [`${printName(read.name)} is ${isText ? JSON.stringify(text.length > 40 ? `${text.slice(0, 39)}…` : text) : text}`]
    })
  return values.length > 1 ? `${values.slice(0, -1).join(', ')} and ${values.at(-1)}` : values.join('')
}

/** Columns of the own row that an expression names, each once. */
function columnsNamed(expression: Checked): ColumnId[] {
  const found = new Set<ColumnId>()
  const visit = (node: Checked): void => {
    if (node.kind === 'column') found.add(node.column)
    if (node.kind === 'over-rows') return
    for (const part of partsOf(node)) visit(part)
  }
  visit(expression)
  return [...found]
}

/** The cell that a calculated cell has an error from; null where it was typed or read, or its own formula makes the error. */
function sourceOf(model: Model, engine: Engine, { owned, slot }: FaultyCell, code: FaultCode): FaultyCell | null {
  const expression = owned.column.formula?.checked?.expression
  if (expression === undefined) return null
  const status = statusOfFault(code)
  const faulty = (id: ColumnId, at: number): FaultyCell | null => {
    if (!model.hasColumn(id)) return null
    const source = model.columnOf(id)
    const isFaulty = source.column.id !== owned.column.id && source.table.store.column(id)?.statusAt(at) === status
    return isFaulty ? { owned: source, slot: at } : null
  }
  const amongRows = (read: Checked & { kind: 'over-rows' }, bound: ReadonlyMap<number, Checked>): FaultyCell | null => {
    const table = model.table(read.rows.table)
    const { store } = table
    const columns = columnsOfRowsRead(read).filter((id) => (store.column(id)?.faultCount(status) ?? 0) > 0)
    if (columns.length === 0) return null
    const isAggregate = read.record.form === 'aggregate'
    const rows = isAggregate
      ? engine.rowsTaken(owned.table.store, withoutSteps(read, bound) as OverRows, slot)
      : store.rows.inOrder()
    for (const row of rows) for (const id of columns) if (store.column(id)?.statusAt(row) === status) return faulty(id, row)
    return null
  }
  const visit = (node: Checked, bound: ReadonlyMap<number, Checked>): FaultyCell | null => {
    if (node.kind === 'column') return faulty(node.column, slot)
    if (node.kind === 'single') return faulty(node.column, 0)
    if (node.kind === 'follow') {
      const to = engine.rowLinked(node.links, slot)
      return to === undefined || node.read.kind !== 'column' ? null : faulty(node.read.column, to)
    }
    if (node.kind === 'over-rows') return amongRows(node, bound)
    if (node.kind === 'let')
      return visit(node.bound, bound) ?? visit(node.body, new Map([...bound, [node.step, withoutSteps(node.bound, bound)]]))
    for (const part of partsOf(node)) {
      const found = visit(part, bound)
      if (found !== null) return found
    }
    return null
  }
  return visit(expression, new Map())
}
