import { type RoundingMode, roundDecimal } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { failRow, numberResults, numbersOf, perRow, putNumber } from '../kernel-rows.js'

/** A kernel that rounds to so many decimal places, 0 unless a second argument says. */
export function roundingKernel(mode: RoundingMode): (call: KernelCall) => void {
  return (call) => {
    const values = numbersOf(call, 0)
    const digits = call.args.length > 1 ? numbersOf(call, 1) : null
    const results = numberResults(call)
    perRow(call, (row) => {
      const places = digits === null ? 0 : (digits[row] as number)
      if (Number.isInteger(places)) putNumber(call, results, row, roundDecimal(values[row] as number, places, mode))
      else failRow(call, row, 'out-of-range')
    })
  }
}
