import { isPeriodUnit, LAST_DAY, MS_PER_DAY, type PeriodUnit } from '../../values/index.js'
import type { KernelCall } from '../define.js'
import { failRow, numberResults, numbersOf, perRow, textsOf } from '../kernel-rows.js'

/**
 * A kernel that moves a date or date-time to an edge of the period it lies in.
 *
 * @param edge - of a moment in milliseconds; what it gives is cut to the day where the argument is a date
 */
export function periodKernel(edge: (moment: number, unit: PeriodUnit) => number): (call: KernelCall) => void {
  return (call) => {
    const values = numbersOf(call, 0)
    const units = textsOf(call, 1)
    const results = numberResults(call)
    const hasTime = call.types[0] === 'datetime'
    perRow(call, (row) => {
      const unit = units[row] as string
      const value = values[row] as number
      const reached = isPeriodUnit(unit) ? edge(hasTime ? value : value * MS_PER_DAY, unit) : Number.NaN
      const day = Math.floor(reached / MS_PER_DAY)
      // The last week of 9999 ends beyond the calendar of the language.
      if (!(day <= LAST_DAY)) failRow(call, row, 'out-of-range')
      else results[row] = hasTime ? reached : day
    })
  }
}
