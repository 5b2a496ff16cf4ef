import { dayOfCivil, daysInMonth } from './civil.js'

/** A compiled reading pattern. */
export interface DatePattern {
  /** True when the pattern has hours, so that it reads date-times. */
  readonly hasTime: boolean
  /** Epoch day, or epoch milliseconds when `hasTime`; NaN where the text does not fit. */
  parse(text: string): number
}

const MONTHS = [
  'january',
  'february',
  'march',
  'april',
  'may',
  'june',
  'july',
  'august',
  'september',
  'october',
  'november',
  'december',
]

const FIELDS: Record<string, [part: string, expression: string]> = {
  yyyy: ['year', '(\\d{4})'],
  y: ['year', '(\\d{1,4})'],
  yy: ['shortYear', '(\\d{2})'],
  M: ['month', '(\\d{1,2})'],
  MM: ['month', '(\\d{2})'],
  MMM: ['monthName', '(\\p{L}{3})\\.?'],
  MMMM: ['monthName', '(\\p{L}+)'],
  d: ['day', '(\\d{1,2})'],
  dd: ['day', '(\\d{2})'],
  H: ['hour', '(\\d{1,2})'],
  HH: ['hour', '(\\d{2})'],
  m: ['minute', '(\\d{1,2})'],
  mm: ['minute', '(\\d{2})'],
  s: ['second', '(\\d{1,2})'],
  ss: ['second', '(\\d{2})'],
  SSS: ['ms', '(\\d{3})'],
}

/**
 * Compiles a date pattern of Unicode TR35, part 4, for reading: `y yy yyyy M MM MMM MMMM d dd H HH m mm s ss SSS`, text in
 * single quotes, other signs as themselves. Month names are English. `yy` is 1950 to 2049.
 *
 * @returns the pattern, or the field letters that it cannot read
 */
export function compileDatePattern(pattern: string): DatePattern | { unreadable: string } {
  const parts: string[] = []
  let expression = ''
  for (const [token] of pattern.matchAll(/'(?:[^']|'')*'|([A-Za-z])\1*|[^A-Za-z']/g)) {
    const field = FIELDS[token]
    if (field !== undefined) {
      parts.push(field[0])
      expression += field[1]
    } else if (/^[A-Za-z]/.test(token)) return { unreadable: token }
    else expression += literalOf(token).replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&')
  }
  if (!parts.some((part) => /year/i.test(part)) || !parts.some((part) => part.startsWith('month')) || !parts.includes('day')) {
    return { unreadable: pattern }
  }
  const matcher = new RegExp(`^${expression}$`, 'u')
  const hasTime = parts.includes('hour')
  return { hasTime, parse: (text) => dateOf(matcher.exec(text), parts, hasTime) }
}

function literalOf(token: string): string {
  if (token === "''") return "'"
  return token.startsWith("'") ? token.slice(1, -1).replaceAll("''", "'") : token
}

function dateOf(match: RegExpExecArray | null, parts: readonly string[], hasTime: boolean): number {
  if (match === null) return Number.NaN
  const found = new Map<string, number>()
  parts.forEach((part, index) => {
    const text = match[index + 1] as string
    if (part === 'monthName') found.set('month', monthOfName(text))
    else if (part === 'shortYear') found.set('year', Number(text) + (Number(text) < 50 ? 2000 : 1900))
    else found.set(part, Number(text))
  })
  const part = (name: string): number => found.get(name) ?? 0
  const [year, month, day] = [part('year'), part('month'), part('day')]
  if (year < 1 || month < 1 || month > 12 || day < 1 || day > daysInMonth(year, month)) return Number.NaN
  if (part('hour') > 23 || part('minute') > 59 || part('second') > 59) return Number.NaN
  const epochDay = dayOfCivil(year, month, day)
  if (!hasTime) return epochDay
  return epochDay * 86_400_000 + part('hour') * 3_600_000 + part('minute') * 60_000 + part('second') * 1000 + part('ms')
}

function monthOfName(text: string): number {
  const name = text.toLowerCase()
  return name.length < 3 ? 0 : MONTHS.findIndex((month) => month === name || (name.length === 3 && month.startsWith(name))) + 1
}
