import { NO_HOLIDAYS, parseWeekend, type WorkCalendar, workCalendar } from '../../values/index.js'
import type { KernelCall, TextRule } from '../define.js'
import { failRow, perRow, textsOf } from '../kernel-rows.js'

/** Weekend of the working-day functions when none is given. */
const DEFAULT_WEEKEND = 'sat sun'

/** What the checker knows of the argument that names the weekend. */
export function weekendText(argument: number): TextRule {
  return {
    argument,
    expects: "weekdays such as 'sat sun'",
    isUsable: (text) => parseWeekend(text) !== null,
    fault: 'out-of-range',
  }
}

/** Runs `compute` for each row with the calendar of its weekend; argument `weekendAt`, where there is one, names the days. */
export function perCalendar(call: KernelCall, weekendAt: number, compute: (row: number, calendar: WorkCalendar) => void): void {
  const weekends = call.args.length > weekendAt ? textsOf(call, weekendAt) : null
  const holidays = call.holidays ?? NO_HOLIDAYS
  let known: string | undefined
  let calendar: WorkCalendar | null = null
  perRow(call, (row) => {
    const text = weekends === null ? DEFAULT_WEEKEND : (weekends[row] as string)
    if (text !== known) {
      known = text
      const weekend = parseWeekend(text)
      calendar = weekend === null ? null : workCalendar(weekend, holidays)
    }
    if (calendar === null) failRow(call, row, 'out-of-range')
    else compute(row, calendar)
  })
}
