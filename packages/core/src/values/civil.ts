/**
 * The proleptic Gregorian calendar on whole days since 1970-01-01, by Howard Hinnant, "chrono-compatible low-level
 * date algorithms" (2013): years start in March, so the leap day is the last of its year.
 */

/** Epoch day of 0001-01-01, the first date of the language. */
export const FIRST_DAY = -719_162
/** Epoch day of 9999-12-31, the last one. */
export const LAST_DAY = 2_932_896

/** The epoch day of a civil date; months and days outside their range carry over as the arithmetic has it. */
export function dayOfCivil(year: number, month: number, day: number): number {
  const shifted = month <= 2 ? year - 1 : year
  const era = Math.floor(shifted / 400)
  const yearOfEra = shifted - era * 400
  const dayOfYear = Math.floor((153 * (month > 2 ? month - 3 : month + 9) + 2) / 5) + day - 1
  const dayOfEra = yearOfEra * 365 + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100) + dayOfYear
  return era * 146_097 + dayOfEra - 719_468
}

/** Year, month (1–12) and day (1–31) of an epoch day. */
export function civilOf(epochDay: number): { year: number; month: number; day: number } {
  const shifted = epochDay + 719_468
  const era = Math.floor(shifted / 146_097)
  const dayOfEra = shifted - era * 146_097
  const yearOfEra = Math.floor(
    (dayOfEra - Math.floor(dayOfEra / 1460) + Math.floor(dayOfEra / 36_524) - Math.floor(dayOfEra / 146_096)) / 365,
  )
  const dayOfYear = dayOfEra - (365 * yearOfEra + Math.floor(yearOfEra / 4) - Math.floor(yearOfEra / 100))
  const marchMonth = Math.floor((5 * dayOfYear + 2) / 153)
  const day = dayOfYear - Math.floor((153 * marchMonth + 2) / 5) + 1
  const month = marchMonth < 10 ? marchMonth + 3 : marchMonth - 9
  return { year: yearOfEra + era * 400 + (month <= 2 ? 1 : 0), month, day }
}

/** True in years with a 29 February. */
function isLeapYear(year: number): boolean {
  return year % 4 === 0 && (year % 100 !== 0 || year % 400 === 0)
}

/** Days of a month, 28 to 31. */
export function daysInMonth(year: number, month: number): number {
  if (month === 2) return isLeapYear(year) ? 29 : 28
  return month === 4 || month === 6 || month === 9 || month === 11 ? 30 : 31
}

/** Day of the week of an epoch day, Monday 1 to Sunday 7 (ISO 8601). */
export function weekdayOf(epochDay: number): number {
  return ((((epochDay + 3) % 7) + 7) % 7) + 1
}

/** The epoch day `months` later (earlier when negative); the end of a month stays inside the month reached. */
export function addMonths(epochDay: number, months: number): number {
  const { year, month, day } = civilOf(epochDay)
  const index = year * 12 + (month - 1) + months
  const toYear = Math.floor(index / 12)
  const toMonth = index - toYear * 12 + 1
  return dayOfCivil(toYear, toMonth, Math.min(day, daysInMonth(toYear, toMonth)))
}
