import type { KernelCall } from '../define.js'
import { numberResults, numbersOf, perRow, putNumber } from '../kernel-rows.js'

/** A kernel that combines any count of numbers two by two, the first with itself where it stands alone. */
export function foldKernel(combine: (left: number, right: number) => number): (call: KernelCall) => void {
  return (call) => {
    const columns = call.args.map((_, index) => numbersOf(call, index))
    const first = columns[0] as Float64Array
    const results = numberResults(call)
    perRow(call, (row) => {
      let folded = first[row] as number
      if (columns.length === 1) folded = combine(folded, folded)
      for (let index = 1; index < columns.length; index++)
        folded = combine(folded, (columns[index] as Float64Array)[row] as number)
      putNumber(call, results, row, folded)
    })
  }
}
