import { Decimal } from 'decimal.js'
import { Temporal } from 'temporal-polyfill'
import { exactly } from './oracle-across.js'
import { DAY, day, display, number, power, type Result, text, time, truth } from './oracle-values.js'

/**
 * Functions of the oracle, by other means than the kernels where there are any: calendar questions go to Temporal, decimal
 * ones to decimal.js, whole numbers to BigInt, patterns and number formats to the platform.
 */

type Values = readonly (number | string | boolean)[]
type Compute = (values: never[], types: string[]) => Result

const letters = (value: string): string[] => [...new Intl.Segmenter('en').segment(value)].map(({ segment }) => segment)
const whole = (value: number): boolean => Number.isInteger(value)
const outside: Result = { fault: 'out-of-range' }
const zeroDivisor: Result = { fault: 'division-by-zero' }
const Wide = Decimal.clone({ precision: 700, rounding: Decimal.ROUND_HALF_UP, toExpNeg: -9e15, toExpPos: 9e15 })

function dateOf(value: number, type: string): Temporal.PlainDate {
  return momentOf(value, type).toPlainDate()
}

function momentOf(value: number, type: string): Temporal.PlainDateTime {
  const ms = type === 'date' ? value * DAY : value
  return Temporal.Instant.fromEpochMilliseconds(ms).toZonedDateTimeISO('UTC').toPlainDateTime()
}

function back(moment: Temporal.PlainDateTime, type: string): Result {
  const ms = moment.toZonedDateTime('UTC').epochMilliseconds
  return type === 'date' ? day(Math.floor(ms / DAY)) : time(ms)
}

const ofDate =
  (compute: (date: Temporal.PlainDate) => number): Compute =>
  ([value]: number[], [type]: string[]) =>
    number(compute(dateOf(value as number, type as string)))
const ofNumber =
  (compute: (value: number) => number): Compute =>
  ([value]: number[]) =>
    number(compute(value as number))

const shift =
  (unit: 'days' | 'months' | 'years'): Compute =>
  ([value, by]: number[], [type]: string[]) => {
    if (!whole(by as number) || Math.abs(by as number) > 4e6) return outside
    try {
      const moved = momentOf(value as number, type as string).add({ [unit]: by as number }, { overflow: 'constrain' })
      return back(moved, type as string)
    } catch (error) {
      // Beyond what Temporal can hold is beyond year 9999 as well.
      if (error instanceof RangeError) return outside
      throw error
    }
  }

/** Whole months between, counted one by one from a guess; slow and plain. */
function monthsBetween(values: Values, types: readonly string[]): number {
  const [a, b] = [0, 1].map((index) => momentOf(values[index] as number, types[index] as string)) as [
    Temporal.PlainDateTime,
    Temporal.PlainDateTime,
  ]
  if (Temporal.PlainDateTime.compare(b, a) < 0)
    return -monthsBetween([values[1], values[0]] as Values, [types[1], types[0]] as string[])
  let count = (b.year - a.year) * 12 + b.month - a.month + 1
  while (Temporal.PlainDateTime.compare(a.add({ months: count }), b) > 0) count--
  return count
}

const HOURS: Record<string, number> = { week: 7 * DAY, day: DAY, hour: 3_600_000, minute: 60_000, second: 1000 }

function startOf(moment: Temporal.PlainDateTime, unit: string): Temporal.PlainDateTime {
  const midnight = moment.with({ hour: 0, minute: 0, second: 0, millisecond: 0 })
  if (unit === 'year') return midnight.with({ month: 1, day: 1 })
  if (unit === 'quarter') return midnight.with({ month: Math.floor((moment.month - 1) / 3) * 3 + 1, day: 1 })
  if (unit === 'month') return midnight.with({ day: 1 })
  if (unit === 'week') return midnight.subtract({ days: moment.dayOfWeek - 1 })
  if (unit === 'day') return midnight
  return moment.round({ smallestUnit: unit as 'hour', roundingMode: 'floor' })
}

const period =
  (isEnd: boolean): Compute =>
  ([value, unit]: [number, string] | never[], [type]: string[]) => {
    if (!['year', 'quarter', 'month', 'week', 'day', 'hour', 'minute', 'second'].includes(unit as string)) return outside
    const start = startOf(momentOf(value as number, type as string), unit as string)
    if (!isEnd) return back(start, type as string)
    const next = unit === 'quarter' ? start.add({ months: 3 }) : start.add({ [`${unit}s`]: 1 })
    return back(next.subtract({ milliseconds: 1 }), type as string)
  }

/** Working days by looking at each day; spans are kept short by whoever asks. */
function isWorking(epochDay: number, weekend: string): boolean {
  const name = ['mon', 'tue', 'wed', 'thu', 'fri', 'sat', 'sun'][dateOf(epochDay, 'date').dayOfWeek - 1] as string
  return !weekend.split(' ').includes(name)
}

function workdays(from: number, to: number, weekend: string): number {
  if (to < from) return -workdays(to, from, weekend)
  const weeks = Math.max(0, Math.floor((to - from) / 7) - 1)
  let count = weeks * [0, 1, 2, 3, 4, 5, 6].filter((one) => isWorking(from + one, weekend)).length
  for (let at = from + weeks * 7 + 1; at <= to; at++) if (isWorking(at, weekend)) count++
  return count
}

const epochDay = (value: number, type: string | undefined): number => (type === 'date' ? value : Math.floor(value / DAY))

function roundTo(value: number, digits: number, mode: Decimal.Rounding): Result {
  if (!whole(digits)) return outside
  const unit = new Wide(10).pow(-digits)
  return number(Number(new Wide(value).div(unit).toDecimalPlaces(0, mode).times(unit).toString()))
}

/** Half away from zero to a multiple. */
function roundToStep(value: number, step: number): Result {
  if (step === 0) return zeroDivisor
  const unit = new Wide(step).abs()
  const count = new Wide(value).abs().div(unit).plus(0.5).floor()
  return number(Number(count.times(unit).times(Math.sign(value)).toString()))
}

function logarithm(value: number, base: number): Result {
  if (!(value > 0) || !(base > 0) || base === 1) return outside
  for (let k = -1100; k <= 1100; k++) {
    const exact = power(base, k)
    if (exact !== null && 'value' in exact && exact.value === value) return number(k)
  }
  return number(base === 10 ? Math.log10(value) : base === 2 ? Math.log2(value) : Math.log(value) / Math.log(base))
}

function wholeFold(values: readonly number[], fold: (a: bigint, b: bigint) => bigint): Result {
  if (values.some((value) => !whole(value) || Math.abs(value) > 2 ** 53)) return outside
  return number(Number(values.map(BigInt).reduce(fold, fold(BigInt(values[0] as number), BigInt(values[0] as number)))))
}

const gcd = (a: bigint, b: bigint): bigint => (b === 0n ? (a < 0n ? -a : a) : gcd(b, a % b))
const lcm = (a: bigint, b: bigint): bigint => (a === 0n || b === 0n ? 0n : (a / gcd(a, b)) * b)
const size = (a: bigint): bigint => (a < 0n ? -a : a)

const pad =
  (atStart: boolean): Compute =>
  ([value, width, filler = ' ']: [string, number, string?] | never[]) => {
    if (!whole(width as number) || letters(filler).length !== 1) return outside
    const missing = Math.max(0, (width as number) - letters(value as string).length)
    const filling = filler.repeat(Math.min(missing, 1_000_001))
    return text(atStart ? filling + value : value + filling)
  }

function piece(pieces: readonly string[], place: number): Result {
  if (!whole(place) || place === 0) return outside
  const found = pieces.at(place > 0 ? place - 1 : place)
  return found === undefined ? null : text(found)
}

function isNumberText(value: string): boolean {
  if (!/^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(value) || !Number.isFinite(Number(value))) return false
  return !/^[+-]?\d+$/.test(value) || BigInt(value.replace(/^[+-]/, '')) <= 2n ** 53n
}

/** Number patterns by what the platform calls the same. */
export const NUMBER_PATTERNS: Readonly<Record<string, Intl.NumberFormatOptions>> = {
  '#,##0.00': { minimumFractionDigits: 2, maximumFractionDigits: 2 },
  '0.0##': { minimumFractionDigits: 1, maximumFractionDigits: 3, useGrouping: false },
  '000': { minimumIntegerDigits: 3, maximumFractionDigits: 0, useGrouping: false },
  '0.0%': { style: 'percent', minimumFractionDigits: 1, maximumFractionDigits: 1, useGrouping: false },
}

function printNumber(value: number, pattern: string): string {
  const options = NUMBER_PATTERNS[pattern] as Intl.NumberFormatOptions
  const format = new Intl.NumberFormat('en', {
    ...options,
    roundingMode: 'halfExpand',
    signDisplay: 'negative',
  } as Intl.NumberFormatOptions)
  // As text the platform takes the decimal that the number prints as.
  return format.format(String(value) as never)
}

/** What the oracle knows, by name. */
export const ORACLE_FUNCTIONS: Readonly<Record<string, Compute>> = {
  abs: ofNumber(Math.abs),
  sign: ofNumber(Math.sign),
  sqrt: ofNumber(Math.sqrt),
  exp: ofNumber(Math.exp),
  ln: ([x]: number[]) => ((x as number) > 0 ? number(Math.log(x as number)) : outside),
  log10: ([x]: number[]) => logarithm(x as number, 10),
  log2: ([x]: number[]) => logarithm(x as number, 2),
  log: ([x, base]: number[]) => logarithm(x as number, base as number),
  power: ([x, y]: number[]) => power(x as number, y as number),
  floor: ofNumber(Math.floor),
  ceiling: ofNumber(Math.ceil),
  truncate: ofNumber(Math.trunc),
  mod: ([x, y]: number[]) => {
    const rest = (x as number) % (y as number)
    return y === 0 ? zeroDivisor : number(rest !== 0 && Math.sign(rest) !== Math.sign(y as number) ? rest + (y as number) : rest)
  },
  quotient: ([x, y]: number[]) =>
    y === 0
      ? zeroDivisor
      : number(
          Number(
            exactly(x as number)
              .div(exactly(y as number))
              .toDecimalPlaces(0, Decimal.ROUND_DOWN)
              .toString(),
          ),
        ),
  round: ([x, digits = 0]: number[]) => roundTo(x as number, digits, Decimal.ROUND_HALF_UP),
  round_up: ([x, digits = 0]: number[]) => roundTo(x as number, digits, Decimal.ROUND_UP),
  round_down: ([x, digits = 0]: number[]) => roundTo(x as number, digits, Decimal.ROUND_DOWN),
  round_to: ([x, step]: number[]) => roundToStep(x as number, step as number),
  clamp: ([x, low, high]: number[]) =>
    (low as number) > (high as number) ? outside : number(Math.min(Math.max(x as number, low as number), high as number)),
  gcd: (values: number[]) => wholeFold(values, (a, b) => size(gcd(a, b))),
  lcm: (values: number[]) => wholeFold(values, (a, b) => size(lcm(a, b))),
  factorial: ([x]: number[]) => {
    if (!whole(x as number) || (x as number) < 0 || (x as number) > 170) return outside
    let product = 1n
    for (let k = 2n; k <= BigInt(x as number); k++) product *= k
    return number(Number(product))
  },
  pi: () => number(Math.PI),
  e: () => number(Math.E),
  sin: ofNumber(Math.sin),
  cos: ofNumber(Math.cos),
  tan: ofNumber(Math.tan),
  asin: ofNumber(Math.asin),
  acos: ofNumber(Math.acos),
  atan: ofNumber(Math.atan),
  atan2: ([y, x]: number[]) => number(Math.atan2(y as number, x as number)),
  sinh: ofNumber(Math.sinh),
  cosh: ofNumber(Math.cosh),
  tanh: ofNumber(Math.tanh),
  degrees: ofNumber((x) => (x / Math.PI) * 180),
  radians: ofNumber((x) => (x / 180) * Math.PI),
  number: ([x]: string[]) => (isNumberText(x as string) ? number(Number(x)) : { fault: 'misfit' }),
  is_number: ([x]: string[]) => truth(isNumberText(x as string)),
  length: ([x]: string[]) => number(letters(x as string).length),
  upper: ([x]: string[]) => text((x as string).toUpperCase()),
  lower: ([x]: string[]) => text((x as string).toLowerCase()),
  title_case: ([x]: string[]) => {
    let made = ''
    for (const letter of (x as string).toLowerCase())
      made += /\p{L}/u.test(letter) && !/[\p{L}\p{M}\p{Nd}'’]$/u.test(made) ? letter.toUpperCase() : letter
    return text(made)
  },
  trim: ([x]: string[]) => text((x as string).trim()),
  single_spaces: ([x]: string[]) => text((x as string).split(/\s+/u).filter(Boolean).join(' ')),
  left: ([x, n]: [string, number] | never[]) =>
    whole(n as number) && (n as number) >= 0
      ? text(
          letters(x as string)
            .slice(0, n)
            .join(''),
        )
      : outside,
  right: ([x, n]: [string, number] | never[]) => {
    const all = letters(x as string)
    return whole(n as number) && (n as number) >= 0 ? text(all.slice(Math.max(0, all.length - (n as number))).join('')) : outside
  },
  substring: ([x, start, count]: [string, number, number] | never[]) =>
    whole(start as number) && whole(count as number) && (start as number) >= 1 && (count as number) >= 0
      ? text(
          letters(x as string)
            .slice((start as number) - 1, (start as number) - 1 + (count as number))
            .join(''),
        )
      : outside,
  position: ([needle, x]: string[]) => {
    const at = (x as string).indexOf(needle as string)
    return number(at < 0 ? 0 : letters((x as string).slice(0, at)).length + 1)
  },
  repeat: ([x, n]: [string, number] | never[]) => {
    if (!whole(n as number) || (n as number) < 0) return outside
    return (x as string).length * (n as number) > 1_000_000
      ? { fault: 'too-long' }
      : text(x === '' ? '' : (x as string).repeat(n as number))
  },
  pad_start: pad(true),
  pad_end: pad(false),
  reverse: ([x]: string[]) =>
    text(
      letters(x as string)
        .reverse()
        .join(''),
    ),
  contains: ([x, y]: string[]) => truth((x as string).includes(y as string)),
  starts_with: ([x, y]: string[]) => truth((x as string).startsWith(y as string)),
  ends_with: ([x, y]: string[]) => truth((x as string).endsWith(y as string)),
  replace: ([x, y, z]: string[]) => text(y === '' ? (x as string) : (x as string).split(y as string).join(z)),
  split_part: ([x, y, n]: [string, string, number] | never[]) =>
    piece(y === '' ? [x as string] : (x as string).split(y as string), n as number),
  word: ([x, n]: [string, number] | never[]) => piece((x as string).split(/\s+/u).filter(Boolean), n as number),
  matches: ([x, pattern]: string[]) => truth(new RegExp(pattern as string, 'u').test(x as string)),
  capture: ([x, pattern, group]: [string, string, number?] | never[]) => {
    const groups = (new RegExp(`${pattern}|`, 'u').exec('') as RegExpExecArray).length - 1
    const wanted = group ?? Math.min(1, groups)
    if (!whole(wanted) || wanted < 0 || wanted > groups) return outside
    const found = new RegExp(pattern as string, 'u').exec(x as string)?.[wanted]
    return found === undefined ? null : text(found)
  },
  replace_pattern: ([x, pattern, by]: string[]) => text((x as string).replace(new RegExp(pattern as string, 'gu'), by as string)),
  text: ([x, pattern]: [number, string?] | never[], [type]: string[]) =>
    text(pattern === undefined ? display({ type, value: x } as never) : printNumber(x as number, pattern)),
  date: ([y, m, d]: number[]) => {
    try {
      if ((y as number) < 1 || (y as number) > 9999 || !values(y, m, d).every(whole)) return outside
      const made = Temporal.PlainDate.from({ year: y as number, month: m as number, day: d as number }, { overflow: 'reject' })
      return back(made.toPlainDateTime(), 'date')
    } catch (error) {
      if (error instanceof RangeError) return outside
      throw error
    }
  },
  datetime: ([d, h, m = 0, s = 0]: number[], [type]: string[]) => {
    const fits =
      whole(h as number) &&
      whole(m) &&
      (h as number) >= 0 &&
      (h as number) < 24 &&
      m >= 0 &&
      m < 60 &&
      s >= 0 &&
      s < 60 &&
      whole(s * 1000)
    return fits ? time(epochDay(d as number, type) * DAY + (h as number) * 3_600_000 + m * 60_000 + s * 1000) : outside
  },
  date_of: ([x]: number[], [type]: string[]) => day(epochDay(x as number, type)),
  year: ofDate((date) => date.year),
  quarter: ofDate((date) => Math.ceil(date.month / 3)),
  month: ofDate((date) => date.month),
  day: ofDate((date) => date.day),
  weekday: ofDate((date) => date.dayOfWeek),
  week: ofDate((date) => date.weekOfYear as number),
  iso_year: ofDate((date) => date.yearOfWeek as number),
  day_of_year: ofDate((date) => date.dayOfYear),
  days_in_month: ofDate((date) => date.daysInMonth),
  hour: ([x]: number[], [type]: string[]) => number(momentOf(x as number, type as string).hour),
  minute: ([x]: number[], [type]: string[]) => number(momentOf(x as number, type as string).minute),
  second: ([x]: number[], [type]: string[]) => {
    const moment = momentOf(x as number, type as string)
    return number((moment.second * 1000 + moment.millisecond) / 1000)
  },
  days_between: ([x, y]: number[], [p, q]: string[]) =>
    number(dateOf(x as number, p as string).until(dateOf(y as number, q as string), { largestUnit: 'days' }).days),
  months_between: (all: number[], types) => number(monthsBetween(all, types)),
  years_between: (all: number[], types) => number(Math.trunc(monthsBetween(all, types) / 12)),
  elapsed: ([x, y, unit]: [number, number, string] | never[], [p, q]: string[]) => {
    const months = { year: 12, quarter: 3, month: 1 }[unit as string]
    if (months !== undefined)
      return number(Math.trunc(monthsBetween([x as number, y as number], [p as string, q as string]) / months))
    const length = HOURS[unit as string]
    const ms = (value: number, type: string): number => (type === 'date' ? value * DAY : value)
    return length === undefined ? outside : number((ms(y as number, q as string) - ms(x as number, p as string)) / length)
  },
  workdays_between: ([x, y, weekend = 'sat sun']: [number, number, string?] | never[], [p, q]: string[]) =>
    number(workdays(epochDay(x as number, p), epochDay(y as number, q), weekend)),
  is_workday: ([x, weekend = 'sat sun']: [number, string?] | never[], [type]: string[]) =>
    truth(isWorking(epochDay(x as number, type), weekend)),
  add_workdays: ([x, n, weekend = 'sat sun']: [number, number, string?] | never[], [type]: string[]) => {
    if (!whole(n as number) || Math.abs(n as number) > 10_000) return outside
    let at = epochDay(x as number, type)
    for (let rest = n as number; rest !== 0; ) {
      at += Math.sign(rest)
      if (at < -719_162 || at > 2_932_896) return outside
      if (isWorking(at, weekend)) rest -= Math.sign(rest)
    }
    return type === 'date' ? day(at) : time(at * DAY + ((((x as number) % DAY) + DAY) % DAY))
  },
  add_days: shift('days'),
  add_months: shift('months'),
  add_years: shift('years'),
  start_of: period(false),
  end_of: period(true),
  parse_date: ([x]: string[]) => {
    const [, d, m, y] = /^(\d{1,2})\.(\d{1,2})\.(\d{1,4})$/.exec(x as string) ?? []
    if (y === undefined) return { fault: 'misfit' }
    const made = (ORACLE_FUNCTIONS.date as Compute)([Number(y), Number(m), Number(d)] as never[], [])
    return made !== null && 'fault' in made ? { fault: 'misfit' } : made
  },
}

function values(...all: (number | undefined)[]): number[] {
  return all as number[]
}
