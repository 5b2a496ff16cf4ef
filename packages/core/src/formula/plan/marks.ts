import { isFullBlock, type Selection, scratch, type Vector } from '../../columns/index.js'
import { Status, statusOfFault } from '../../values/index.js'
import type { WatchCode } from '../check/index.js'

/** Radians of a full turn, with room for what rounding adds. */
const FULL_TURN: number = 2 * Math.PI * (1 + 2 ** -40)
const DIVISION_BY_ZERO: number = statusOfFault('division-by-zero')

/** Marks the rows of a watched link of a chain. */
export type LinkMarker = (value: Vector, operand: Vector, out: Vector, marks: Uint8Array, selection: Selection) => void

/** What a watched link of a chain marks: rows with a negative result, or rows that its division failed on. */
export function linkMarker(code: WatchCode | undefined, bit: number): LinkMarker {
  if (code === 'negative-interval') return (_value, _operand, out, marks, selection) => markNegative(out, marks, bit, selection)
  return (value, operand, out, marks, selection) => {
    if (!out.clean) markZeroDivisors(value, operand, out, marks, bit, selection)
  }
}

/** Marks the rows with a negative result. */
export function markNegative(vector: Vector, marks: Uint8Array, bit: number, selection: Selection): void {
  const loops = isFullBlock(selection) ? scratch.loopsFor(vector.values, marks) : null
  if (loops === null) markWhere(vector, (value) => value < 0, marks, bit, selection)
  else loops.markNegative((vector.values as Float64Array).byteOffset, marks.byteOffset, bit)
}

/** Marks the rows whose number is beyond a full turn in radians. */
export function markBeyondTurn(vector: Vector, marks: Uint8Array, bit: number, selection: Selection): void {
  markWhere(vector, (value) => Math.abs(value) > FULL_TURN, marks, bit, selection)
}

/** Marks the rows whose number passes a test. */
function markWhere(
  vector: Vector,
  passes: (value: number) => boolean,
  marks: Uint8Array,
  bit: number,
  selection: Selection,
): void {
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    if (vector.status[row] === Status.value && passes(vector.values[row] as number)) marks[row] = (marks[row] as number) | bit
  }
}

/** Marks the rows that this division failed on, not those that had the error before it. */
function markZeroDivisors(
  value: Vector,
  divisor: Vector,
  out: Vector,
  marks: Uint8Array,
  bit: number,
  selection: Selection,
): void {
  const loops = isFullBlock(selection) ? scratch.loopsFor(value.values, divisor.values, out.values, marks) : null
  if (loops !== null) {
    const [left, right, made] = [value, divisor, out].map((vector) => (vector.values as Float64Array).byteOffset)
    loops.markFailed(left as number, right as number, made as number, marks.byteOffset, bit)
    return
  }
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    if (out.status[row] !== DIVISION_BY_ZERO) continue
    if (value.status[row] === Status.value && divisor.status[row] === Status.value) marks[row] = (marks[row] as number) | bit
  }
}
