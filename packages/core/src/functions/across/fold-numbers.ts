import { ExactSum } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { numberResults, putNumber } from '../kernel-rows.js'
import { eachRow, numberAt } from './row-values.js'

/** A kernel over the exact sum and the count of the values present. */
export function foldNumbers(compute: (sum: ExactSum, count: number) => number): (call: KernelCall) => void {
  return (call) => {
    const results = numberResults(call)
    const sum = new ExactSum()
    eachRow(
      call,
      () => sum.clear(),
      (vector, row, _index, isBlank) => sum.add(numberAt(vector, row, isBlank)),
      (row, present) => putNumber(call, results, row, compute(sum, present)),
    )
  }
}
