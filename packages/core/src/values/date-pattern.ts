import { dayOfCivil, daysInMonth } from './civil.js'
import { MS_PER_DAY } from './date-text.js'
import { type LocalNames, localNames } from './local-names.js'
import { datePatternTokens } from './pattern-tokens.js'

/** A compiled reading pattern. */
export interface DatePattern {
  /** True when the pattern has hours, so that it reads date-times. */
  readonly hasTime: boolean
  /** Epoch day, or epoch milliseconds when `hasTime`; NaN where the text does not fit. */
  parse(text: string): number
}

/** What each field reads: the part of a date it gives and the expression that finds it. */
const FIELDS: Record<string, [part: string, expression: string]> = {
  yyyy: ['year', '(\\d{4})'],
  y: ['year', '(\\d{1,4})'],
  yy: ['shortYear', '(\\d{2})'],
  M: ['month', '(\\d{1,2})'],
  MM: ['month', '(\\d{2})'],
  MMM: ['monthName', '(\\p{L}[\\p{L}\\p{M}-]*)\\.?'],
  MMMM: ['monthName', '(\\p{L}[\\p{L}\\p{M}-]*)'],
  d: ['day', '(\\d{1,2})'],
  dd: ['day', '(\\d{2})'],
  E: ['weekday', '(\\p{L}[\\p{L}\\p{M}-]*)\\.?'],
  EEE: ['weekday', '(\\p{L}[\\p{L}\\p{M}-]*)\\.?'],
  EEEE: ['weekday', '(\\p{L}[\\p{L}\\p{M}-]*)'],
  H: ['hour', '(\\d{1,2})'],
  HH: ['hour', '(\\d{2})'],
  h: ['halfHour', '(\\d{1,2})'],
  hh: ['halfHour', '(\\d{2})'],
  a: ['half', '(\\p{L}[\\p{L}. ]*)'],
  m: ['minute', '(\\d{1,2})'],
  mm: ['minute', '(\\d{2})'],
  s: ['second', '(\\d{1,2})'],
  ss: ['second', '(\\d{2})'],
  SSS: ['ms', '(\\d{3})'],
}

/**
 * Compiles a date pattern of Unicode TR35, part 4, for reading: `y yy yyyy M MM MMM MMMM d dd E EEEE H HH h hh a m mm s ss
 * SSS`, text in single quotes, other signs as themselves. Names are those of the locale. `yy` is 1950 to 2049.
 *
 * @returns the pattern, or the fields that it cannot read
 */
export function compileDatePattern(pattern: string, locale = 'en'): DatePattern | { unreadable: string } {
  const parts: string[] = []
  let expression = ''
  for (const { field, literal } of datePatternTokens(pattern)) {
    if (field === null) expression += literal.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&')
    else {
      const known = FIELDS[field]
      if (known === undefined) return { unreadable: field }
      parts.push(known[0])
      expression += known[1]
    }
  }
  const isWhole =
    parts.some((part) => /year/i.test(part)) && parts.some((part) => part.startsWith('month')) && parts.includes('day')
  const halves = parts.includes('halfHour') === parts.includes('half')
  if (!isWhole || !halves) return { unreadable: pattern }
  const matcher = new RegExp(`^${expression}$`, 'u')
  const hasTime = parts.includes('hour') || parts.includes('halfHour')
  return { hasTime, parse: (text) => dateOf(matcher.exec(text), parts, hasTime, locale) }
}

function dateOf(match: RegExpExecArray | null, parts: readonly string[], hasTime: boolean, locale: string): number {
  if (match === null) return Number.NaN
  const found = new Map<string, number>()
  parts.forEach((part, index) => {
    const text = match[index + 1] as string
    if (part === 'monthName') found.set('month', monthOfName(text, localNames(locale)))
    else if (part === 'shortYear') found.set('year', Number(text) + (Number(text) < 50 ? 2000 : 1900))
    else if (part === 'half')
      found.set(
        'half',
        localNames(locale).halves.findIndex((name) => isSameText(name, text)),
      )
    else if (part !== 'weekday') found.set(part, Number(text))
  })
  const part = (name: string): number => found.get(name) ?? 0
  const [year, month, day] = [part('year'), part('month'), part('day')]
  if (year < 1 || month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) return Number.NaN
  const epochDay = dayOfCivil(year, month, day)
  if (!hasTime) return epochDay
  const hour = found.has('halfHour') ? hourOfHalf(part('halfHour'), part('half')) : part('hour')
  if (!(hour <= 23) || part('minute') > 59 || part('second') > 59) return Number.NaN
  return epochDay * MS_PER_DAY + hour * 3_600_000 + part('minute') * 60_000 + part('second') * 1000 + part('ms')
}

function hourOfHalf(hour: number, half: number): number {
  return half < 0 || hour < 1 || hour > 12 ? Number.NaN : (hour % 12) + half * 12
}

/** The month of a full or short name of the locale, or of the first three letters of a full one; 0 for none. */
function monthOfName(text: string, { months, standingMonths }: LocalNames): number {
  for (const names of [months.long, standingMonths.long, months.short, standingMonths.short]) {
    const month = names.findIndex((name) => isSameText(name, text)) + 1
    if (month > 0) return month
  }
  return text.length === 3 ? months.long.findIndex((name) => isSameText(name.slice(0, 3), text)) + 1 : 0
}

function isSameText(left: string, right: string): boolean {
  const plain = (text: string): string => text.replaceAll(/[.\s\u202f]/g, '').toLowerCase()
  return plain(left) === plain(right)
}
