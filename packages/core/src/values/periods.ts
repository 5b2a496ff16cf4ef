import { addMonths, civilOf, dayOfCivil, weekdayOf } from './civil.js'
import { MS_PER_DAY } from './date-text.js'

/** Units of periods, longest first. */
export const PERIOD_UNITS = ['year', 'quarter', 'month', 'week', 'day', 'hour', 'minute', 'second'] as const

/** A unit of a period. */
export type PeriodUnit = (typeof PERIOD_UNITS)[number]

/** Whole months of the units that are made of months. */
export const MONTHS_OF_UNIT: Partial<Record<PeriodUnit, number>> = { year: 12, quarter: 3, month: 1 }

/** Milliseconds of the units that are always equally long. */
export const MS_OF_UNIT: Partial<Record<PeriodUnit, number>> = {
  week: 7 * MS_PER_DAY,
  day: MS_PER_DAY,
  hour: 3_600_000,
  minute: 60_000,
  second: 1000,
}

/** True for the name of a unit. */
export function isPeriodUnit(text: string): text is PeriodUnit {
  return (PERIOD_UNITS as readonly string[]).includes(text)
}

/** The first millisecond of the period that a moment (epoch milliseconds) lies in; weeks begin on Monday. */
export function startOfPeriod(moment: number, unit: PeriodUnit): number {
  const months = MONTHS_OF_UNIT[unit]
  const epochDay = Math.floor(moment / MS_PER_DAY)
  if (months !== undefined) {
    const { year, month } = civilOf(epochDay)
    return dayOfCivil(year, month - ((month - 1) % months), 1) * MS_PER_DAY
  }
  if (unit === 'week') return (epochDay - weekdayOf(epochDay) + 1) * MS_PER_DAY
  const length = MS_OF_UNIT[unit] as number
  return Math.floor(moment / length) * length
}

/** The last millisecond of the period that a moment lies in. */
export function endOfPeriod(moment: number, unit: PeriodUnit): number {
  const start = startOfPeriod(moment, unit)
  const months = MONTHS_OF_UNIT[unit]
  if (months !== undefined) return addMonths(start / MS_PER_DAY, months) * MS_PER_DAY - 1
  return start + (MS_OF_UNIT[unit] as number) - 1
}

/**
 * The largest whole count of months that added to the first moment does not pass the second; with the sign swapped when
 * the second is earlier. Moments are epoch milliseconds.
 */
export function monthsBetween(start: number, end: number): number {
  if (end < start) return -monthsBetween(end, start) + 0
  const startDay = Math.floor(start / MS_PER_DAY)
  const endDay = Math.floor(end / MS_PER_DAY)
  const from = civilOf(startDay)
  const to = civilOf(endDay)
  const months = (to.year - from.year) * 12 + to.month - from.month
  const reached = addMonths(startDay, months) * MS_PER_DAY + (start - startDay * MS_PER_DAY)
  return reached > end ? months - 1 : months
}

/** The ISO 8601 week of an epoch day, with the year it belongs to: that of its Thursday. */
export function isoWeekOf(epochDay: number): { year: number; week: number } {
  const thursday = epochDay - weekdayOf(epochDay) + 4
  const { year } = civilOf(thursday)
  return { year, week: Math.floor((thursday - dayOfCivil(year, 1, 1)) / 7) + 1 }
}
