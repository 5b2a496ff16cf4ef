/** Names of months, weekdays and halves of the day in a locale; `standing` ones stand alone, as in a heading. */
export interface LocalNames {
  readonly months: { readonly long: readonly string[]; readonly short: readonly string[] }
  readonly standingMonths: { readonly long: readonly string[]; readonly short: readonly string[] }
  /** Monday first. */
  readonly weekdays: { readonly long: readonly string[]; readonly short: readonly string[] }
  /** Before and after noon. */
  readonly halves: readonly [string, string]
}

const known = new Map<string, LocalNames>()

/** The names of a locale, from the platform's CLDR data (ECMA-402). The locale must be a well-formed tag. */
export function localNames(locale: string): LocalNames {
  const before = known.get(locale)
  if (before !== undefined) return before
  const names = readNames(locale)
  known.set(locale, names)
  return names
}

function readNames(locale: string): LocalNames {
  const part = (options: Intl.DateTimeFormatOptions, type: string, utcMs: number): string =>
    new Intl.DateTimeFormat(`${locale}-u-ca-gregory-nu-latn`, { ...options, timeZone: 'UTC' })
      .formatToParts(utcMs)
      .find((one) => one.type === type)?.value ?? ''
  const months = (options: Intl.DateTimeFormatOptions): string[] =>
    Array.from({ length: 12 }, (_, month) => part(options, 'month', Date.UTC(2024, month, 1)))
  // 2024-01-01 was a Monday.
  const weekdays = (weekday: 'long' | 'short'): string[] =>
    Array.from({ length: 7 }, (_, day) => part({ weekday }, 'weekday', Date.UTC(2024, 0, 1 + day)))
  const half = (hour: number): string => part({ hour: 'numeric', hour12: true }, 'dayPeriod', Date.UTC(2024, 0, 1, hour))
  return {
    months: { long: months({ month: 'long', day: 'numeric' }), short: months({ month: 'short', day: 'numeric' }) },
    standingMonths: { long: months({ month: 'long' }), short: months({ month: 'short' }) },
    weekdays: { long: weekdays('long'), short: weekdays('short') },
    halves: [half(1), half(13)],
  }
}
