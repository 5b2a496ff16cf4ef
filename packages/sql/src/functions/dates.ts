import type { Scalar, ValueType } from 'mellow-abacus'
import { NoForm } from '../dialects/index.js'
import { fragment, literal, risky, sql, type Term } from '../terms/index.js'
import {
  dated,
  dayOf,
  faultOfKnown,
  faultOfMissing,
  momentOf,
  numberLiteral,
  strict,
  timed,
  type Value,
  valueFrom,
  WHOLE,
} from '../values/index.js'
import type { FunctionCall, FunctionForm } from './form.js'

const UNITS = ['year', 'quarter', 'month', 'week', 'day', 'hour', 'minute', 'second']
const MONTHS_OF: Readonly<Record<string, number>> = { year: 12, quarter: 3, month: 1 }
const MS_OF: Readonly<Record<string, number>> = {
  week: 604_800_000,
  day: 86_400_000,
  hour: 3_600_000,
  minute: 60_000,
  second: 1000,
}
const MS_PER_DAY = 86_400_000
const WEEKDAYS = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun']
/** Small whole numbers, such as parts of dates. */
const SMALL = { size: WHOLE }

/** A field that the engines call alike. */
const field =
  (name: string): FunctionForm =>
  ({ args: [x] }) =>
    strict([x as Value], fieldOf(name, (x as Value).value), SMALL)

function fieldOf(name: string, x: Term): Term {
  return sql`cast(date_part('${name}', ${x}) as float8)`
}

/** A field of the time of day; that of a date is midnight's. */
const timeField =
  (length: number, of: number): FunctionForm =>
  ({ args: [x], types, writing }) => {
    const ms = momentOf(writing, (x as Value).value, types[0] as string)
    const inside = sql`(${ms} - floor(${ms} / ${numberLiteral(of)}) * ${numberLiteral(of)})`
    const value = length === 0 ? sql`(${inside} / 1000)` : sql`floor(${inside} / ${numberLiteral(length)})`
    return strict([x as Value], value, { size: { grain: -65, high: 54 } })
  }

/** A number as the engines count with, where it is small enough: they look at what is written out beforehand. */
const asInt = (x: Term, isSmall: Term): Term => risky`cast(case when ${isSmall} then ${x} end as int)`

const isWhole = (x: Term): Term => sql`${x} = floor(${x})`

/** How many days a month has. */
function daysIn(year: Term, month: Term): Term {
  const isLeap = sql`${year} / 4 = floor(${year} / 4) and (${year} / 100 <> floor(${year} / 100) or ${year} / 400 = floor(${year} / 400))`
  return sql`(case when ${month} in (4, 6, 9, 11) then 30 when ${month} <> 2 then 31 when ${isLeap} then 29 else 28 end)`
}

/** So many days, months or years later. */
function shifted(call: FunctionCall, by: Value, months: number): Value {
  const [x] = call.args as [Value, Value]
  const { writing, types } = call
  if (months === 0) {
    const days = sql`case when ${isWhole(by.value)} and abs(${by.value}) < 10000000 then ${by.value} end`
    if (types[0] === 'date') return dated(writing, sql`(${dayOf(writing, x.value, 'date')} + ${days})`, [x, by])
    return timed(writing, sql`(${writing.dialect.moment(x.value)} + ${days} * ${numberLiteral(MS_PER_DAY)})`, [x, by])
  }
  const count = risky`(${by.value} * ${months})`
  const place = sql`(${fieldOf('year', x.value)} * 12 + ${fieldOf('month', x.value)} - 1 + ${sql`case when abs(${by.value}) < 10000000 then ${count} end`})`
  const fits = sql`${isWhole(by.value)} and ${place} between 12 and 119999`
  const moved = writing.dialect.plusMonths(x.value, asInt(count, sql`abs(${by.value}) < 10000000`), types[0] as ValueType)
  const value = sql`case when ${fits} then ${moved} end`
  return strict([x, by], value, { own: faultOfMissing(value, [x, by], 'out-of-range') })
}

/** A unit that has to be written out, and what to give where it is none. */
function unitOf({ constants, name }: FunctionCall, index: number): string | null {
  const unit: Scalar | null | undefined = constants[index]
  if (unit === undefined) throw new NoForm(`${name}() has a form in SQL only where the unit is written out`)
  return typeof unit === 'string' && UNITS.includes(unit) ? unit : null
}

/** What a call gives whose unit is none: an error, or blank where something is blank. */
function failing({ args, type, writing }: FunctionCall): Value {
  const nothing = literal(`cast(null as ${writing.dialect.types[type]})`)
  return strict(args, nothing, { own: faultOfKnown(literal('true'), args, 'out-of-range') })
}

const period =
  (isEnd: boolean): FunctionForm =>
  (call) => {
    const { args, types, constants, writing } = call
    const [x, unitText] = args as [Value, Value]
    if (constants[1] === null) return strict(args, literal(`cast(null as ${writing.dialect.types[call.type]})`))
    const unit = unitOf(call, 1)
    if (unit === null) return failing(call)
    const isDate = types[0] === 'date'
    // A date is a day, in which hours and less begin and end.
    const by = isDate && ['hour', 'minute', 'second'].includes(unit) ? 'day' : unit
    const start = sql`date_trunc('${by}', cast(${x.value} as timestamp))`
    if (!isEnd) {
      const value = isDate ? sql`cast(${start} as date)` : start
      return strict([x, unitText], value)
    }
    const next = sql`(${start} + interval '${by === 'quarter' ? '3 months' : `1 ${by}`}')`
    return isDate
      ? dated(writing, sql`(${dayOf(writing, sql`cast(${next} as date)`, 'date')} - 1)`, [x, unitText])
      : timed(writing, sql`(${writing.dialect.moment(next)} - 1)`, [x, unitText])
  }

function monthsApart({ args, writing }: FunctionCall): Term {
  const [a, b] = [0, 1].map((index) => sql`cast(${(args[index] as Value).value} as timestamp)`) as [Term, Term]
  return writing.call('months_apart', a, b)
}

const span =
  (months: number): FunctionForm =>
  (call) => {
    const apart = monthsApart(call)
    const value = months === 1 ? apart : sql`(trunc(${apart} / ${months}) + 0)`
    return strict(call.args, value, { size: WHOLE, mayBeNegativeZero: true })
  }

/** The days of the weekend, from Monday 0. */
function weekendOf({ constants, args, name }: FunctionCall, index: number): ReadonlySet<number> {
  if (args.length <= index) return new Set([5, 6])
  const text = constants[index]
  const days = typeof text === 'string' ? text.split(' ').filter((one) => one !== '') : null
  if (days === null || days.some((one) => !WEEKDAYS.includes(one)))
    throw new NoForm(`${name}() has a form in SQL only where the weekend is written out`)
  if (new Set(days).size === 7) throw new NoForm(`${name}() without working days has no form in SQL`)
  return new Set(days.map((one) => WEEKDAYS.indexOf(one)))
}

/** Working days up to and with a day, counted from one far back. */
function workdaysUpTo(day: Term, weekend: ReadonlySet<number>): Term {
  const shifted = sql`(${day} + 3)`
  const weeks = sql`floor(${shifted} / 7)`
  const weekday = sql`(${shifted} - ${weeks} * 7)`
  let count = 0
  let inWeek = fragment`case`
  for (let at = 0; at < 7; at++) {
    if (!weekend.has(at)) count++
    inWeek = at < 6 ? fragment`${inWeek} when ${weekday} = ${at} then ${count}` : sql`${inWeek} else ${count} end`
  }
  return sql`(${weeks} * ${7 - weekend.size} + ${inWeek})`
}

/** Functions of dates. */
export const DATE_FORMS: Readonly<Record<string, FunctionForm>> = {
  today: ({ writing }) => {
    const day = Math.floor(writing.surroundings.now / MS_PER_DAY)
    return valueFrom(writing.dialect.dateOfDay(numberLiteral(day)))
  },
  now: ({ writing }) => valueFrom(writing.dialect.timeOfMoment(numberLiteral(writing.surroundings.now))),
  date: ({ args }) => {
    const [y, m, d] = args as [Value, Value, Value]
    const inYear = sql`${isWhole(y.value)} and ${y.value} between 1 and 9999`
    const inMonth = sql`${isWhole(m.value)} and ${m.value} between 1 and 12`
    const year = sql`case when ${inYear} then ${y.value} end`
    const inDays = sql`${d.value} between 1 and 31`
    const fits = sql`${inYear} and ${inMonth} and ${isWhole(d.value)} and ${d.value} >= 1 and ${d.value} <= ${daysIn(year, m.value)}`
    const value = sql`case when ${fits} then ${risky`make_date(${asInt(y.value, inYear)}, ${asInt(m.value, inMonth)}, ${asInt(d.value, inDays)})`} end`
    return strict(args, value, { own: faultOfMissing(value, args, 'out-of-range') })
  },
  datetime: ({ args, types, writing }) => {
    const zero = valueFrom(numberLiteral(0))
    const [date, h, m = zero, s = zero] = args as [Value, Value, Value?, Value?]
    const of = [date, h, ...(args.length > 2 ? [m] : []), ...(args.length > 3 ? [s] : [])]
    const isHour = sql`${isWhole(h.value)} and ${h.value} >= 0 and ${h.value} < 24`
    const isMinute = sql`${isWhole(m.value)} and ${m.value} >= 0 and ${m.value} < 60`
    const isSecond = sql`${s.value} >= 0 and ${s.value} < 60`
    const ms = sql`(case when ${isSecond} then ${s.value} end * 1000)`
    const fits = sql`${isHour} and ${isMinute} and ${isSecond} and ${isWhole(ms)}`
    const time = sql`(case when ${fits} then ${h.value} * 3600000 + ${m.value} * 60000 + ${ms} end)`
    return timed(writing, sql`(${dayOf(writing, date.value, types[0] as string)} * ${numberLiteral(MS_PER_DAY)} + ${time})`, of)
  },
  date_of: ({ args: [x] }) => strict([x as Value], sql`cast(${(x as Value).value} as date)`),
  year: field('year'),
  quarter: field('quarter'),
  month: field('month'),
  day: field('day'),
  weekday: field('isodow'),
  week: field('week'),
  iso_year: field('isoyear'),
  day_of_year: field('doy'),
  hour: timeField(3_600_000, MS_PER_DAY),
  minute: timeField(60_000, 3_600_000),
  second: timeField(0, 60_000),
  days_in_month: ({ args: [x] }) => {
    const of = (x as Value).value
    return strict(
      [x as Value],
      sql`cast(case when ${of} is not null then ${daysIn(fieldOf('year', of), fieldOf('month', of))} end as float8)`,
      SMALL,
    )
  },
  days_between: ({ args, types, writing }) => {
    const [a, b] = [0, 1].map((index) => dayOf(writing, (args[index] as Value).value, types[index] as string)) as [Term, Term]
    return strict(args, sql`(${b} - ${a})`, SMALL)
  },
  months_between: span(1),
  years_between: span(12),
  elapsed: (call) => {
    const { args, types, writing, constants } = call
    if (constants[2] === null) return strict(args, literal('cast(null as float8)'))
    const unit = unitOf(call, 2)
    if (unit === null) return failing(call)
    const months = MONTHS_OF[unit]
    if (months !== undefined) return span(months)(call)
    const [a, b] = [0, 1].map((index) => momentOf(writing, (args[index] as Value).value, types[index] as string)) as [Term, Term]
    return strict(args, sql`((${b} - ${a}) / ${numberLiteral(MS_OF[unit] as number)})`, { size: { grain: -90, high: 54 } })
  },
  add_days: (call) => shifted(call, call.args[1] as Value, 0),
  add_months: (call) => shifted(call, call.args[1] as Value, 1),
  add_years: (call) => shifted(call, call.args[1] as Value, 12),
  start_of: period(false),
  end_of: period(true),
  is_workday: (call) => {
    const [x] = call.args as [Value]
    const weekend = weekendOf(call, 1)
    const days = [...weekend].map((day) => day + 1).join(', ')
    const isOff = weekend.size === 0 ? literal('false') : sql`date_part('isodow', ${x.value}) in (${days})`
    const day = sql`cast(${x.value} as date)`
    const isHoliday = call.holidays === null ? literal('false') : call.writing.dialect.hasDay(call.holidays, day)
    return strict(call.args, sql`case when ${x.value} is not null then not (${isOff} or ${isHoliday}) end`)
  },
  workdays_between: (call) => {
    const { args, types, writing } = call
    const weekend = weekendOf(call, 2)
    const [a, b] = [0, 1].map((index) =>
      workdaysUpTo(dayOf(writing, (args[index] as Value).value, types[index] as string), weekend),
    ) as [Term, Term]
    if (call.holidays === null) return strict(args, sql`(${b} - ${a})`, SMALL)
    const { holidays } = call
    const [from, to] = [0, 1].map((index) =>
      writing.dialect.daysUpTo(
        holidays,
        sql`cast(${(args[index] as Value).value} as date)`,
        [...weekend].map((day) => day + 1),
      ),
    ) as [Term, Term]
    return strict(args, sql`((${b} - ${to}) - (${a} - ${from}))`, SMALL)
  },
}
