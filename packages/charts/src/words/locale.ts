import type { Json } from '../theme.js'

/** How numbers and dates are written in a language, as Vega takes it; from ECMA-402. */
export function localeConfig(locale: string): Json {
  const parts = new Intl.NumberFormat(locale, { useGrouping: true }).formatToParts(-1_234_567.5)
  const part = (type: string, fallback: string): string => parts.find((one) => one.type === type)?.value ?? fallback
  const named = (options: Intl.DateTimeFormatOptions, dates: readonly Date[]): string[] => {
    const format = new Intl.DateTimeFormat(locale, { ...options, timeZone: 'UTC', calendar: 'gregory' })
    return dates.map((date) => format.format(date))
  }
  // The fourth of January 1970 was a Sunday.
  const days = Array.from({ length: 7 }, (_, day) => new Date(Date.UTC(1970, 0, 4 + day)))
  const months = Array.from({ length: 12 }, (_, month) => new Date(Date.UTC(1970, month, 15)))
  const periods = [3, 15].map((hour) => {
    const found = new Intl.DateTimeFormat(locale, { hour: 'numeric', hour12: true, timeZone: 'UTC' }).formatToParts(
      new Date(Date.UTC(1970, 0, 1, hour)),
    )
    return found.find((one) => one.type === 'dayPeriod')?.value ?? ''
  })
  return {
    number: { decimal: part('decimal', '.'), thousands: part('group', ','), grouping: [3], currency: ['', ''] },
    time: {
      dateTime: '%x %X',
      date: '%Y-%m-%d',
      time: '%H:%M:%S',
      periods,
      days: named({ weekday: 'long' }, days),
      shortDays: named({ weekday: 'short' }, days),
      months: named({ month: 'long' }, months),
      shortMonths: named({ month: 'short' }, months),
    },
  }
}
