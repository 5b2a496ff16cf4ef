import { FIRST_DAY, LAST_DAY, weekdayOf } from './civil.js'
import { firstNumberFrom, firstWhere } from './first-where.js'

const WEEKDAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun']

/** No holidays. */
export const NO_HOLIDAYS: Int32Array = new Int32Array(0)

/** Which weekdays are no working days; index 0 is Monday. */
export type Weekend = readonly boolean[]

/** Reads a weekend like `sat sun` (in any case, also with commas; empty for none), or null when a word is no weekday. */
export function parseWeekend(text: string): Weekend | null {
  const words = text
    .toLowerCase()
    .split(/[\s,]+/)
    .filter((word) => word !== '')
  if (words.some((word) => !WEEKDAYS.includes(word))) return null
  return WEEKDAYS.map((day) => words.includes(day))
}

/** Working days of a weekend and holidays; every question costs the logarithm of the holidays, however long the span. */
export interface WorkCalendar {
  isWorking(epochDay: number): boolean
  /** Working days from a fixed day long ago up to and with this one: differences count the days between. */
  upTo(epochDay: number): number
  /** The `count`-th working day after (before, when negative) a day; NaN beyond the calendar of the language. */
  move(epochDay: number, count: number): number
}

/** Makes a calendar. */
export function workCalendar(weekend: Weekend, holidays: Int32Array): WorkCalendar {
  // Holidays that fall on a weekend change nothing, so only the others are counted.
  const off = Int32Array.from(new Set(holidays))
    .filter((day) => weekend[weekdayOf(day) - 1] !== true)
    .sort()
  const perWeek = weekend.filter((isOff) => !isOff).length
  const before = WEEKDAYS.map((_, index) => weekend.slice(0, index + 1).filter((isOff) => !isOff).length)
  const offUpTo = (epochDay: number): number => firstNumberFrom(off, epochDay, true)
  const upTo = (epochDay: number): number => {
    // Epoch day −3 was a Monday.
    const weeks = Math.floor((epochDay + 3) / 7)
    return weeks * perWeek + (before[epochDay + 3 - weeks * 7] as number) - offUpTo(epochDay)
  }
  const isWorking = (epochDay: number): boolean =>
    weekend[weekdayOf(epochDay) - 1] !== true && (off.length === 0 || off[offUpTo(epochDay) - 1] !== epochDay)
  const move = (epochDay: number, count: number): number => {
    if (count === 0) return epochDay
    // The days before a day are counted without it, so the search goes for the n-th from where `upTo` stands.
    const wanted = upTo(count > 0 ? epochDay : epochDay - 1) + count + (count > 0 ? 0 : 1)
    const found = firstWhere(FIRST_DAY, LAST_DAY + 1, (day) => upTo(day) >= wanted)
    return found <= LAST_DAY && upTo(found) === wanted && isWorking(found) ? found : Number.NaN
  }
  return { isWorking, upTo, move }
}
