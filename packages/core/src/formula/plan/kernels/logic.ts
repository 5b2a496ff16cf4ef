import type { BooleanVector, Selection, Vector } from '../../../columns/index.js'
import { Status } from '../../../values/index.js'
import { combineStatus } from './arithmetic.js'

/**
 * Three-valued `and` (deciding value 0) and `or` (deciding value 1): the deciding value on either side decides whatever the
 * other is; otherwise error beats blank and the leftmost error wins.
 */
export function logicKernel(
  deciding: 0 | 1,
  left: BooleanVector,
  right: BooleanVector,
  out: BooleanVector,
  selection: Selection,
): void {
  const { rows, count } = selection
  let clean = true
  for (let k = 0; k < count; k++) {
    const row = rows === null ? k : (rows[k] as number)
    const ofLeft = left.status[row] as number
    const ofRight = right.status[row] as number
    const decided =
      (ofLeft === Status.value && left.values[row] === deciding) || (ofRight === Status.value && right.values[row] === deciding)
    const status = decided ? Status.value : combineStatus(ofLeft, ofRight)
    out.status[row] = status
    out.values[row] = decided ? deciding : 1 - deciding
    if (status !== Status.value) clean = false
  }
  out.clean = clean
}

/** `not`. */
export function notKernel(value: BooleanVector, out: BooleanVector, selection: Selection): void {
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    out.status[row] = value.status[row] as number
    out.values[row] = 1 - (value.values[row] as number)
  }
  out.clean = value.clean
}

/** `is blank`, which errors pass through. */
export function isBlankKernel(value: Vector, out: BooleanVector, selection: Selection): void {
  let clean = true
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    const status = value.status[row] as number
    const isError = status > Status.blank
    out.status[row] = isError ? status : Status.value
    out.values[row] = status === Status.blank ? 1 : 0
    if (isError) clean = false
  }
  out.clean = clean
}

/** `is error`, which is always true or false. */
export function isErrorKernel(value: Vector, out: BooleanVector, selection: Selection): void {
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    out.status[row] = Status.value
    out.values[row] = (value.status[row] as number) > Status.blank ? 1 : 0
  }
  out.clean = true
}
