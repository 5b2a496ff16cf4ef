import type { Cell, Column, Vector } from '../../columns/index.js'
import { CellFault, compareText, faultOfStatus, type Scalar, Status, statusOfFault } from '../../values/index.js'

/** Compares the keys of two rows: values, then blanks, in both directions. */
export function compareKeys(left: readonly Cell[], right: readonly Cell[], descending: readonly boolean[]): number {
  for (const [index, a] of left.entries()) {
    const b = right[index] as Cell
    if (a === b) continue
    if (a === null || b === null) return a === null ? 1 : -1
    const order = compareValues(a, b)
    if (order !== 0) return descending[index] === true ? -order : order
  }
  return 0
}

/** Compares two values of one type. */
export function compareValues(left: Cell, right: Cell): number {
  if (typeof left === 'number' && typeof right === 'number') return left - right
  return typeof left === 'string' ? compareText(left, right as string) : Number(left) - Number(right)
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
  const status = column?.statusAt(slot) ?? Status.blank
  if (status === Status.blank) return null
  if (status !== Status.value) return new CellFault(faultOfStatus(status))
  const value = column?.valueAt(slot) as Scalar
  return column?.type === 'boolean' ? value === 1 : value
}

/** True for cells that read the same: errors are equal when their codes are. */
export function sameCell(left: Cell, right: Cell): boolean {
  if (left instanceof CellFault && right instanceof CellFault) return left.code === right.code
  return left === right
}

/** Copies one cell of a column into a vector; a column without storage is blank. */
export function copyCell(from: Column | undefined, slot: number, out: Vector, row: number): void {
  const status = from?.statusAt(slot) ?? Status.blank
  out.status[row] = status
  if (status === Status.value) out.values[row] = from?.valueAt(slot) as never
}
