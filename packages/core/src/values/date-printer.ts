import { civilOf, dayOfCivil, weekdayOf } from './civil.js'
import { MS_PER_DAY } from './date-text.js'
import { type LocalNames, localNames } from './local-names.js'
import { datePatternTokens } from './pattern-tokens.js'
import { isoWeekOf } from './periods.js'

/** A moment taken apart for printing. */
interface Moment {
  readonly year: number
  readonly month: number
  readonly day: number
  readonly epochDay: number
  readonly ms: number
}

type Printer = (moment: Moment, names: LocalNames, width: number) => string

const pad = (value: number, width: number): string => String(value).padStart(width, '0')
const numeric =
  (of: (moment: Moment) => number): Printer =>
  (moment, _names, width) =>
    pad(of(moment), width)
const hour = (moment: Moment): number => Math.floor(moment.ms / 3_600_000)

/** What each field letter of TR35 prints; a field wider than `most` is no field of ours. */
const fields: Record<string, { readonly most: number; readonly print: Printer }> = {
  y: { most: 4, print: (moment, _names, width) => (width === 2 ? pad(moment.year % 100, 2) : pad(moment.year, width)) },
  Y: { most: 4, print: (moment, _names, width) => pad(isoWeekOf(moment.epochDay).year, width) },
  Q: { most: 2, print: numeric((moment) => Math.ceil(moment.month / 3)) },
  M: { most: 4, print: (moment, names, width) => monthText(moment.month, names.months, width) },
  L: { most: 4, print: (moment, names, width) => monthText(moment.month, names.standingMonths, width) },
  w: { most: 2, print: numeric((moment) => isoWeekOf(moment.epochDay).week) },
  d: { most: 2, print: numeric((moment) => moment.day) },
  D: { most: 3, print: numeric((moment) => moment.epochDay - dayOfCivil(moment.year, 1, 1) + 1) },
  E: {
    most: 4,
    print: (moment, names, width) => names.weekdays[width === 4 ? 'long' : 'short'][weekdayOf(moment.epochDay) - 1] as string,
  },
  a: { most: 3, print: (moment, names) => names.halves[hour(moment) < 12 ? 0 : 1] },
  H: { most: 2, print: numeric(hour) },
  h: { most: 2, print: numeric((moment) => hour(moment) % 12 || 12) },
  m: { most: 2, print: numeric((moment) => Math.floor(moment.ms / 60_000) % 60) },
  s: { most: 2, print: numeric((moment) => Math.floor(moment.ms / 1000) % 60) },
  S: { most: 3, print: (moment, _names, width) => pad(moment.ms % 1000, 3).slice(0, width) },
}

function monthText(month: number, names: LocalNames['months'], width: number): string {
  if (width <= 2) return pad(month, width)
  return names[width === 4 ? 'long' : 'short'][month - 1] as string
}

/**
 * Compiles a date pattern of Unicode TR35, part 4, for printing: `y Y Q M L w d D E a H h m s S`, text in single quotes,
 * other signs as themselves. Weeks are those of ISO 8601.
 *
 * @returns a function of epoch milliseconds, or null where the pattern has a field that is none of these, or no field
 */
export function compileDatePrinter(pattern: string, locale: string): ((epochMs: number) => string) | null {
  const tokens = datePatternTokens(pattern)
  const printers: ((moment: Moment) => string)[] = []
  const names = localNames(locale)
  let fieldCount = 0
  for (const { field, literal } of tokens) {
    if (field === null) printers.push(() => literal)
    else {
      const known = fields[field[0] as string]
      if (known === undefined || field.length > known.most) return null
      fieldCount++
      printers.push((moment) => known.print(moment, names, field.length))
    }
  }
  if (fieldCount === 0) return null
  return (epochMs) => {
    const epochDay = Math.floor(epochMs / MS_PER_DAY)
    const moment = { ...civilOf(epochDay), epochDay, ms: epochMs - epochDay * MS_PER_DAY }
    let printed = ''
    for (const print of printers) printed += print(moment)
    return printed
  }
}
