/** Names that rows of points have fields of their own by. */
const TAKEN: ReadonlySet<string> = new Set(['x', 'from', 'to', 'series', 'value'])

/**
 * What the fields of series are called in the rows of points: as the series where that is a plain word, so that the
 * specification can be read; else by number, since fields are paths in which dots and brackets mean something.
 */
export function seriesIds(names: readonly string[]): string[] {
  return names.map((name, at) => (/^[A-Za-z]\w*$/.test(name) && !TAKEN.has(name) ? name : `series${at + 1}`))
}
