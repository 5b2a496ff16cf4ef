import type { Vector } from '../../columns/index.js'
import { displayScalar, Status, type ValueType } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { putText, textResults } from '../kernel-rows.js'

/**
 * Joins the values of a row from argument `first` on, skipping blanks; blank if there is no value, and the leftmost error
 * goes through.
 */
export function joinValues(call: KernelCall, first: number, separatorOf: (row: number) => string): void {
  const { args, types, out, selection } = call
  const results = textResults(call)
  out.clean = false
  for (let k = 0; k < selection.count; k++) {
    const row = selection.rows === null ? k : (selection.rows[k] as number)
    let joined: string | null = null
    let status: number = Status.value
    for (let index = 0; index < args.length && status <= Status.blank; index++) {
      const vector = args[index] as Vector
      const of = vector.status[row] as number
      if (of > Status.blank || (of === Status.blank && index < first)) status = of
      else if (of === Status.value && index >= first) {
        const text = displayAt(vector, row, types[index] as ValueType)
        joined = joined === null ? text : joined + separatorOf(row) + text
      }
    }
    if (status === Status.value && joined === null) status = Status.blank
    out.status[row] = status
    if (status === Status.value && joined !== null) putText(call, results, row, joined)
  }
}

/** One value of a vector as text. */
export function displayAt(vector: Vector, row: number, type: ValueType): string {
  if (vector.kind === 'text') return vector.values[row] as string
  if (vector.kind === 'boolean') return vector.values[row] === 1 ? 'true' : 'false'
  return displayScalar(vector.values[row] as number, type)
}
