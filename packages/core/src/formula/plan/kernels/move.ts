import type { Selection, Vector } from '../../../columns/index.js'
import { type Scalar, Status } from '../../../values/index.js'

/** Copies the selected rows of a vector into another of the same storage kind. */
export function copySelected(from: Vector, to: Vector, selection: Selection): void {
  const { rows, count } = selection
  if (rows === null) {
    to.status.set(from.status.subarray(0, count))
    if (from.kind === 'text' || to.kind === 'text')
      for (let row = 0; row < count; row++) to.values[row] = from.values[row] as never
    else if (from.kind === to.kind) to.values.set(from.values.subarray(0, count))
    return
  }
  for (let k = 0; k < count; k++) {
    const row = rows[k] as number
    to.status[row] = from.status[row] as number
    to.values[row] = from.values[row] as never
  }
}

/** Fills the selected rows with one value, or with a status that is no value. */
export function fillSelected(to: Vector, value: Scalar | null, status: number, selection: Selection): void {
  const { rows, count } = selection
  const stored = typeof value === 'boolean' ? (value ? 1 : 0) : value
  if (rows === null) {
    to.status.fill(status, 0, count)
    if (stored !== null) (to.values as { fill(value: unknown, from: number, to: number): void }).fill(stored, 0, count)
  } else {
    for (let k = 0; k < count; k++) {
      const row = rows[k] as number
      to.status[row] = status
      if (stored !== null) to.values[row] = stored as never
    }
  }
  to.clean = status === Status.value
}
