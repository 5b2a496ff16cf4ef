import type { Vector } from '../../columns/index.js'
import { Status } from '../../values/index.js'
import type { KernelCall } from '../define.js'

/**
 * Runs over the rows of a call: `take` gets each argument that has a value (0 for a blank that counts as zero), then `finish`
 * writes the row. The leftmost error goes through; a row without a value is blank unless `finish` is told of those too.
 */
export function eachRow(
  call: KernelCall,
  begin: () => void,
  take: (vector: Vector, row: number, index: number, isBlank: boolean) => void,
  finish: (row: number, present: number) => void,
  options: { readonly finishesEmpty?: boolean } = {},
): void {
  const { args, out, selection, blanksAsZero } = call
  const { rows, count } = selection
  out.clean = false
  for (let k = 0; k < count; k++) {
    const row = rows === null ? k : (rows[k] as number)
    const status = leftmostError(args, row)
    out.status[row] = status
    if (status !== Status.value) continue
    let present = 0
    begin()
    for (let index = 0; index < args.length; index++) {
      const vector = args[index] as Vector
      const isBlank = vector.status[row] === Status.blank
      if (isBlank && !blanksAsZero) continue
      present++
      take(vector, row, index, isBlank)
    }
    if (present > 0 || options.finishesEmpty === true) finish(row, present)
    else out.status[row] = Status.blank
  }
}

function leftmostError(args: readonly Vector[], row: number): number {
  for (let index = 0; index < args.length; index++) {
    const status = (args[index] as Vector).status[row] as number
    if (status > Status.blank) return status
  }
  return Status.value
}

/** The number of a row; a blank that counts is 0. */
export function numberAt(vector: Vector, row: number, isBlank: boolean): number {
  return isBlank ? 0 : (vector.values[row] as number)
}
