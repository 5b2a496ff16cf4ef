import { Status } from '../values/index.js'
import type { NumberValues, NumberVector } from './vectors.js'

/** The narrowest array that holds whole numbers between two; null where binary64 is needed. */
function arrayFor(least: number, most: number): (new (length: number) => NumberValues) | null {
  if (least >= -0x80 && most <= 0x7f) return Int8Array
  if (least >= -0x8000 && most <= 0x7fff) return Int16Array
  return least >= -0x8000_0000 && most <= 0x7fff_ffff ? Int32Array : null
}

/** A block of whole numbers, days among them, in the narrowest array that holds it; the block itself where none does. */
export function narrowed(block: NumberVector): NumberVector {
  const { values, status } = block
  let [least, most] = [0, 0]
  for (let row = 0; row < status.length; row++) {
    if (status[row] !== Status.value) continue
    const value = values[row] as number
    if (!Number.isInteger(value)) return block
    if (value < least) least = value
    if (value > most) most = value
  }
  const Narrow = arrayFor(least, most)
  if (Narrow === null) return block
  const narrow = new Narrow(values.length)
  // What is left over where there is no value means nothing, and may not fit.
  for (let row = 0; row < status.length; row++) if (status[row] === Status.value) narrow[row] = values[row] as number
  return { ...block, values: narrow }
}

/** True when an array holds a number as it is. */
export function fits(values: NumberValues, value: number): boolean {
  if (values instanceof Float64Array) return true
  if (!Number.isInteger(value)) return false
  const reach = 2 ** (8 * values.BYTES_PER_ELEMENT - 1)
  return value >= -reach && value < reach
}

/** The same block in binary64. */
export function widened(block: NumberVector): NumberVector {
  return block.values instanceof Float64Array ? block : { ...block, values: Float64Array.from(block.values) }
}
