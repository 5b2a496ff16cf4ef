import { ExactSum } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { numberResults } from '../kernel-rows.js'
import { eachRow, numberAt } from './row-values.js'

/** The kernel of `median_of`. */
export function medianKernel(call: KernelCall): void {
  const results = numberResults(call)
  const values = new Float64Array(call.args.length)
  const sum = new ExactSum()
  let count = 0
  eachRow(
    call,
    () => {
      count = 0
    },
    (vector, row, _index, isBlank) => {
      values[count++] = numberAt(vector, row, isBlank)
    },
    (row, present) => {
      const sorted = values.subarray(0, present).sort()
      const middle = present >> 1
      const upper = sorted[middle] as number
      if (present % 2 === 1) results[row] = upper
      else {
        sum.clear()
        sum.add(sorted[middle - 1] as number)
        sum.add(upper)
        results[row] = sum.times(1, 2)
      }
    },
  )
}
