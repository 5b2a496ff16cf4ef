import type { Cell } from '../../columns/index.js'
import type { Engine, OverRows } from '../../engine/index.js'
import { type Checked, somePart, withoutSteps } from '../../formula/index.js'
import { CellFault } from '../../values/index.js'
import { type Addressed, formulaOf, type Model, type ShownValue, showCell } from '../model/index.js'
import { cellsOfPlan } from '../queries/index.js'

/** What one row adds to a figure: to its dividend, and to its divisor. */
export interface RowShare {
  readonly rowNumber: number
  readonly top: number
  readonly bottom: number
}

/**
 * A figure that rows add up to: the sum of what each adds to its dividend, per the sum of what each adds to its divisor, times numbers
 * that are written out.
 */
export interface RowShares {
  readonly table: string
  /** By row id; rows that add nothing are left out. */
  readonly byRow: ReadonlyMap<number, RowShare>
  /** False for a sum and a count, which are divided by nothing. */
  readonly isQuotient: boolean
  readonly times: readonly number[]
  readonly per: readonly number[]
}

/** A value as it is at a revision, to be compared with what it is at another. */
export interface Figure {
  readonly value: ShownValue
  /** Null for a value that was typed or read. */
  readonly formula: string | null
  /** For a sum, a count, a mean, a share, or a quotient of sums and counts; null for any other figure. */
  readonly rows: RowShares | null
}

/** A figure as it is now. */
export function figureAt(model: Model, engine: Engine, owned: Addressed, slot: number): Figure {
  const { table, column } = owned
  const storage = engine.recalculation.storage(table.store, column.id, [slot])
  const value = storage === undefined ? null : showCell(storage.read(slot), storage.type)
  const expression = column.formula?.checked?.expression
  const isNumber = typeof value === 'number' && expression !== undefined
  const taken: TakenRows = (read) => engine.rowsTaken(table.store, read, slot)
  const own = table.role === 'rows' ? { table: table.name, slot } : null
  const rows = isNumber ? sharesOf(model, engine, withoutSteps(expression), taken, own) : null
  return { value, formula: formulaOf(column)?.text ?? null, rows }
}

/** The functions whose value is made of what each row adds. */
const OF_ROWS: ReadonlySet<string> = new Set(['sum', 'count', 'mean', 'share'])

/** A product and quotient of numbers and functions of rows, taken apart; null for any other formula. */
interface Parts {
  readonly top: OverRows[]
  readonly bottom: OverRows[]
  readonly times: number[]
  readonly per: number[]
}

/** The rows that a function of several rows takes, by their slots; null where that cannot be told. */
export type TakenRows = (read: OverRows) => readonly number[] | null

/**
 * What rows add to a figure; null where it is none that rows add up to.
 *
 * @param own - the row that the figure is of, where it is of one
 */
export function sharesOf(
  model: Model,
  engine: Engine,
  expression: Checked,
  takenBy: TakenRows,
  own: { readonly table: string; readonly slot: number } | null,
): RowShares | null {
  const parts = partsOfFigure(expression)
  const [top] = parts?.top ?? []
  const [bottom] = parts?.bottom ?? []
  if (parts === null || top === undefined || parts.top.length > 1 || parts.bottom.length > 1) return null
  const { name } = top.record
  // A mean or a share has a divisor of its own.
  if (bottom !== undefined && (name === 'mean' || name === 'share')) return null
  if (bottom !== undefined && bottom.record.name !== 'sum' && bottom.record.name !== 'count') return null
  if (bottom !== undefined && bottom.rows.table !== top.rows.table) return null
  const table = model.table(top.rows.table)
  const { rows } = table.store
  const byRow = new Map<number, { rowNumber: number; top: number; bottom: number }>()
  const add = (read: OverRows, put: (share: { top: number; bottom: number }, value: number, at: number) => void): boolean => {
    const taken = takenBy(read)
    const values = taken === null ? null : valuesOf(engine, model, read, taken)
    if (taken === null || values === null) return false
    for (const at of taken) {
      const value = values(at)
      if (value === null) continue
      const id = rows.idOf(at)
      const share = byRow.get(id) ?? { rowNumber: rows.placeOf(at) + 1, top: 0, bottom: 0 }
      byRow.set(id, share)
      put(share, value, at)
    }
    return true
  }
  const isKnown = add(top, (share, value, at) => {
    if (name !== 'share' || (own !== null && table.name === own.table && at === own.slot)) share.top += value
    if (name === 'mean') share.bottom += 1
    if (name === 'share') share.bottom += value
  })
  if (!isKnown) return null
  const addBelow = (share: { bottom: number }, value: number): void => {
    share.bottom += value
  }
  if (bottom !== undefined && !add(bottom, addBelow)) return null
  const isQuotient = bottom !== undefined || name === 'mean' || name === 'share'
  return { table: table.name, byRow, isQuotient, times: parts.times, per: parts.per }
}

function partsOfFigure(expression: Checked): Parts | null {
  const parts: Parts = { top: [], bottom: [], times: [], per: [] }
  const take = (node: Checked, functions: OverRows[], numbers: number[]): boolean => {
    if (node.kind === 'constant' && typeof node.value === 'number') numbers.push(node.value)
    else if (node.kind === 'over-rows' && OF_ROWS.has(node.record.name)) functions.push(node)
    else return false
    return true
  }
  if (expression.kind !== 'chain') return take(expression, parts.top, parts.times) ? parts : null
  if (!take(expression.first, parts.top, parts.times)) return null
  for (const { operator, operand } of expression.rest) {
    const isProduct = operator === 'multiply'
    if (!isProduct && operator !== 'divide' && operator !== 'per') return null
    if (!(isProduct ? take(operand, parts.top, parts.times) : take(operand, parts.bottom, parts.per))) return null
  }
  return parts
}

/** What a function of rows takes of each row, by slot: nothing of a blank; null where it reads what no row has alone, or an error. */
function valuesOf(
  engine: Engine,
  model: Model,
  { record, rows, args: [argument] }: OverRows,
  taken: readonly number[],
): ((slot: number) => number | null) | null {
  if (argument === undefined) return () => 1
  if (somePart(argument, (part) => part.kind === 'outer')) return null
  const table = model.table(rows.table)
  const cells: Cell[] = cellsOfPlan(engine, table, engine.compile({ expression: argument, watches: [] }), taken)
  if (taken.some((slot) => cells[slot] instanceof CellFault)) return null
  return (slot) => {
    const cell = cells[slot] ?? null
    return cell === null ? null : record.name === 'count' ? 1 : (cell as number)
  }
}
