import { BLOCK_MASK, BLOCK_SHIFT, type Cell, type Column, type Vector } from '../../columns/index.js'
import type { FunctionRecord, GatheredRows } from '../../functions/index.js'
import {
  CellFault,
  compareText,
  FAULT_CODES,
  faultOfStatus,
  type Scalar,
  Status,
  statusOfFault,
  type ValueType,
} from '../../values/index.js'

/** An aggregate, told apart from where its rows come from. */
export interface AggregateCall {
  readonly record: FunctionRecord & { readonly form: 'aggregate' }
  /** Types of the arguments. */
  readonly types: readonly ValueType[]
  /** Directions of the keys of `order by`. */
  readonly descending: readonly boolean[]
}

/** A row that an aggregate takes in: where it stands, its keys of the order, its arguments. */
export interface TakenRow {
  readonly place: number
  readonly keys: readonly Cell[]
  readonly args: readonly Cell[]
}

/** True when the order of the rows can make a difference to the result. */
export function mindsOrder({ record, types, descending }: AggregateCall): boolean {
  return descending.length > 0 || record.mindsErrors === true || types.length > 1
}

/** What an aggregate gives over some rows; `fault` is the error found in its condition, if any. */
export function aggregateOf(call: AggregateCall, rows: TakenRow[], fault: CellFault | null): Cell {
  const { record, types } = call
  const keyFault = types.length === 0 ? null : firstFaultOf(rows.flatMap((row) => row.keys))
  const valueFault = record.mindsErrors === true ? null : firstFaultOf(rows.flatMap((row) => row.args))
  const found = worse(worse(fault, keyFault), valueFault)
  if (found !== null) return found
  if (mindsOrder(call)) rows.sort((a, b) => compareKeys(a.keys, b.keys, call.descending) || a.place - b.place)
  const args = types.map((_, index) => rows.map((row) => row.args[index] as Cell))
  const gathered: GatheredRows = { args, types, count: rows.length }
  const result = record.gather(gathered)
  return result instanceof CellFault ? new CellFault(result.code) : result
}

/** Compares the keys of two rows: values, then blanks, in both directions. */
export function compareKeys(left: readonly Cell[], right: readonly Cell[], descending: readonly boolean[]): number {
  for (const [index, a] of left.entries()) {
    const b = right[index] as Cell
    if (a === b) continue
    if (a === null || b === null) return a === null ? 1 : -1
    const order = typeof a === 'string' ? compareText(a, b as string) : Number(a) - Number(b)
    if (order !== 0) return descending[index] === true ? -order : order
  }
  return 0
}

/** Of two errors the one named first in FAULT_CODES. */
export function worse(left: CellFault | null, right: CellFault | null): CellFault | null {
  if (left === null || right === null) return left ?? right
  return FAULT_CODES.indexOf(left.code) <= FAULT_CODES.indexOf(right.code) ? left : right
}

function firstFaultOf(cells: readonly Cell[]): CellFault | null {
  let found: CellFault | null = null
  for (const cell of cells) if (cell instanceof CellFault) found = worse(found, cell)
  return found
}

/** The cell of a row of a vector; booleans are true and false. */
export function cellAt(vector: Vector, row: number): Cell {
  const status = vector.status[row] as number
  if (status === Status.blank) return null
  if (status !== Status.value) return new CellFault(faultOfStatus(status))
  return vector.kind === 'boolean' ? vector.values[row] === 1 : (vector.values[row] as Scalar)
}

/** Writes a cell into a row of a vector. */
export function putCell(vector: Vector, row: number, cell: Cell): void {
  if (cell === null) vector.status[row] = Status.blank
  else if (cell instanceof CellFault) vector.status[row] = statusOfFault(cell.code)
  else {
    vector.status[row] = Status.value
    vector.values[row] = (typeof cell === 'boolean' ? Number(cell) : cell) as never
  }
}

/** The cell of a slot of a column; blank for a column without storage. */
export function cellOf(column: Column | undefined, slot: number): Cell {
  const block = column?.peek(slot >> BLOCK_SHIFT)
  const row = slot & BLOCK_MASK
  return block === undefined || row >= block.status.length ? null : cellAt(block, row)
}

/** True for cells that read the same: errors are equal when their codes are. */
export function sameCell(left: Cell, right: Cell): boolean {
  if (left instanceof CellFault && right instanceof CellFault) return left.code === right.code
  return left === right
}
