import { MS_PER_DAY } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { numberResults, numbersOf, perRow } from '../kernel-rows.js'

/** A kernel of the time of the day, in milliseconds since midnight. */
export function clockKernel(compute: (ms: number) => number): (call: KernelCall) => void {
  return (call) => {
    const values = numbersOf(call, 0)
    const results = numberResults(call)
    const hasTime = call.types[0] === 'datetime'
    perRow(call, (row) => {
      const value = values[row] as number
      results[row] = compute(hasTime ? value - Math.floor(value / MS_PER_DAY) * MS_PER_DAY : 0)
    })
  }
}
