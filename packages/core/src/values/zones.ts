/** True for a time zone of the IANA database (or an offset) that this platform knows. */
export function isTimeZone(zone: string): boolean {
  try {
    new Intl.DateTimeFormat('en', { timeZone: zone })
    return true
  } catch {
    // The platform says "unknown zone" by throwing; there is no other way to ask.
    return false
  }
}

/**
 * What the wall clock of a zone shows at a moment.
 *
 * @returns a function from UTC milliseconds to wall-clock milliseconds, both since 1970-01-01T00:00 of their own clock
 */
export function zonedWallClock(zone: string): (utcMs: number) => number {
  if (zone === 'UTC') return (utcMs) => utcMs
  const format = new Intl.DateTimeFormat('en-u-ca-iso8601-nu-latn', {
    timeZone: zone,
    hourCycle: 'h23',
    year: 'numeric',
    month: 'numeric',
    day: 'numeric',
    hour: 'numeric',
    minute: 'numeric',
    second: 'numeric',
  })
  return (utcMs) => {
    const parts = new Map(format.formatToParts(utcMs).map((part) => [part.type as string, Number(part.value)]))
    const part = (name: string): number => parts.get(name) ?? 0
    const seconds = Date.UTC(part('year'), part('month') - 1, part('day'), part('hour'), part('minute'), part('second'))
    return seconds + (((utcMs % 1000) + 1000) % 1000)
  }
}
