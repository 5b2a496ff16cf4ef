import type { Cell } from '../../columns/index.js'
import type { FunctionRecord, GatheredRows } from '../../functions/index.js'
import { CellFault, FAULT_CODES, type ValueType } from '../../values/index.js'
import { compareKeys } from '../cells.js'

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
