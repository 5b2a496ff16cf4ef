import type { KernelCall } from '../define.js'
import { numberResults } from '../kernel-rows.js'
import { eachRow } from './row-values.js'

/** The kernel of `count_of`. */
export function countKernel(call: KernelCall): void {
  const results = numberResults(call)
  const nothing = (): void => {}
  eachRow(
    call,
    nothing,
    nothing,
    (row, present) => {
      results[row] = present
    },
    { finishesEmpty: true },
  )
}
