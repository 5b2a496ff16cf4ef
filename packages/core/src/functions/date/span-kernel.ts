import { monthsBetween } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { momentsOf, numberResults, perRow } from '../kernel-rows.js'

/** A kernel of the whole months from one date or date-time to another. */
export function spanKernel(compute: (months: number) => number): (call: KernelCall) => void {
  return (call) => {
    const start = momentsOf(call, 0)
    const end = momentsOf(call, 1)
    const results = numberResults(call)
    perRow(call, (row) => {
      results[row] = compute(monthsBetween(start(row), end(row)))
    })
  }
}
