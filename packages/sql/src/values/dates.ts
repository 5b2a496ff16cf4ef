import { sql, type Term } from '../terms/index.js'
import { faultOfMissing, numberLiteral, strict, type Value } from './value.js'
import type { Writing } from './writing.js'

/** The first and the last day of the calendar, of years 1 and 9999, as days since 1970. */
const FIRST_DAY = -719_162
const LAST_DAY = 2_932_896
const MS_PER_DAY = 86_400_000
/** So many days further any day is beyond the calendar. */
const FARTHEST = 1e7

/** Midnight of a date. */
export function dayToTime(date: Value): Value {
  return { ...date, value: sql`cast(${date.value} as timestamp)` }
}

/**
 * A date so many whole days later.
 *
 * @param inOrder - the two in the order in which their errors count
 */
export function datePlusDays(writing: Writing, date: Value, by: Value, sign: 1 | -1, inOrder = [date, by]): Value {
  return dated(writing, sql`(${writing.dialect.dayNumber(date.value)} ${sign > 0 ? '+' : '-'} ${by.value})`, inOrder)
}

/** The date of a number of days since 1970, where that is whole and within the calendar. */
export function dated(writing: Writing, day: Term, of: readonly Value[]): Value {
  const fits = sql`${day} between ${FIRST_DAY} and ${LAST_DAY} and ${day} = floor(${day})`
  const value = sql`case when ${fits} then ${writing.dialect.dateOfDay(day)} end`
  return strict(of, value, { own: faultOfMissing(value, of, 'out-of-range') })
}

/** The date-time of whole milliseconds since 1970, where they are within the calendar. */
export function timed(writing: Writing, ms: Term, of: readonly Value[]): Value {
  const fits = sql`${ms} >= ${FIRST_DAY * MS_PER_DAY} and ${ms} < ${(LAST_DAY + 1) * MS_PER_DAY}`
  const value = sql`case when ${fits} then ${writing.dialect.timeOfMoment(ms)} end`
  return strict(of, value, { own: faultOfMissing(value, of, 'out-of-range') })
}

/** A date-time so many days later, to the nearest millisecond. */
export function timePlusDays(writing: Writing, time: Value, by: Value, sign: 1 | -1, inOrder = [time, by]): Value {
  const { dialect } = writing
  // Beyond all dates, a factor would end the statement on the way.
  const days = sql`case when abs(${by.value}) < ${numberLiteral(FARTHEST)} then ${by.value} when ${by.value} is not null then ${numberLiteral(FARTHEST)} end`
  const ms = sql`((${sign > 0 ? '' : '- '}${days}) * ${numberLiteral(MS_PER_DAY)})`
  const whole = nearest(ms)
  return timed(writing, sql`(${dialect.moment(time.value)} + ${whole})`, inOrder)
}

/** The nearest whole number, a half upwards. */
function nearest(ms: Term): Term {
  return sql`(floor(${ms}) + case when ${ms} - floor(${ms}) >= 0.5 then 1 else 0 end)`
}

/** Days from one date-time to another, with their fraction. */
export function timeDifference(writing: Writing, a: Value, b: Value): Value {
  const { dialect } = writing
  const ms = sql`(${dialect.moment(a.value)} - ${dialect.moment(b.value)})`
  return strict([a, b], sql`(${ms} / ${numberLiteral(MS_PER_DAY)})`, { size: { grain: -90, high: 24 } })
}

/** The days of a date or date-time since 1970. */
export function dayOf({ dialect }: Writing, value: Term, type: string): Term {
  return dialect.dayNumber(type === 'datetime' ? sql`cast(${value} as date)` : value)
}

/** The milliseconds of a date or date-time since 1970. */
export function momentOf({ dialect }: Writing, value: Term, type: string): Term {
  return type === 'datetime' ? dialect.moment(value) : sql`(${dialect.dayNumber(value)} * ${numberLiteral(MS_PER_DAY)})`
}
