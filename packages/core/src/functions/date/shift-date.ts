import { FIRST_DAY, LAST_DAY, MS_PER_DAY } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { failRow, numberResults, numbersOf, perRow } from '../kernel-rows.js'

/** A kernel that moves a date or date-time by a whole number, keeping the time of the day. */
export function shiftKernel(shift: (epochDay: number, by: number) => number): (call: KernelCall) => void {
  return (call) => {
    const values = numbersOf(call, 0)
    const amounts = numbersOf(call, 1)
    const results = numberResults(call)
    const hasTime = call.types[0] === 'datetime'
    perRow(call, (row) => {
      const value = values[row] as number
      const by = amounts[row] as number
      const epochDay = hasTime ? Math.floor(value / MS_PER_DAY) : value
      const moved = Number.isInteger(by) && Math.abs(by) < 1e7 ? shift(epochDay, by) : Number.NaN
      if (!(moved >= FIRST_DAY && moved <= LAST_DAY)) failRow(call, row, 'out-of-range')
      else results[row] = hasTime ? moved * MS_PER_DAY + (value - epochDay * MS_PER_DAY) : moved
    })
  }
}
