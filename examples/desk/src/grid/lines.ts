import type { SessionValue } from '@mellow-abacus/session'
import { conditionOf } from '../look/condition-of'

/** Rows with the same value in a column, with a line of their own above them. */
export interface RowGroup {
  readonly key: SessionValue
  readonly rows: number
  /** True where its rows are not shown. */
  readonly isFolded: boolean
  /** Its totals, by the names of columns. */
  readonly totals: ReadonlyMap<string, SessionValue>
}

/** A line of the grid: a row by its place among those shown, or the line of a group. */
export type Line = { readonly place: number } | { readonly group: RowGroup }

/** Which lines there are, from 0: the rows as they stand, with the line of each group above its rows. */
export interface Lines {
  readonly count: number
  /** None where rows are in none. */
  readonly groups: readonly RowGroup[]
  lineAt(index: number): Line
  indexOf(place: number): number
  /** The group that a row is in; undefined where rows are in none. */
  groupAt(place: number): RowGroup | undefined
}

/** Lines of rows that are in no groups. */
export function plainLines(count: number): Lines {
  return { count, groups: [], lineAt: (index) => ({ place: index + 1 }), indexOf: (place) => place - 1, groupAt: () => undefined }
}

/** Lines of rows in groups, which stand one group after the other. */
export function groupedLines(groups: readonly RowGroup[]): Lines {
  // Where the line of each group stands, and how many rows are shown above it.
  const [at, above]: [number[], number[]] = [[], []]
  let [lines, rows] = [0, 0]
  for (const group of groups) {
    at.push(lines)
    above.push(rows)
    const shown = group.isFolded ? 0 : group.rows
    lines += 1 + shown
    rows += shown
  }
  const lineAt = (index: number): Line => {
    const of = lastUpTo(at, index)
    const group = groups[of] as RowGroup
    return index === at[of] ? { group } : { place: (above[of] as number) + index - (at[of] as number) }
  }
  // Of groups that begin where the next one does no row is shown: the last one is it.
  const indexOfGroup = (place: number): number => lastUpTo(above, place - 1)
  const indexOf = (place: number): number => {
    const of = indexOfGroup(place)
    return (at[of] as number) + place - (above[of] as number)
  }
  return { count: lines, groups, lineAt, indexOf, groupAt: (place) => groups[indexOfGroup(place)] }
}

/** The place of the last of ascending numbers that is not above another one; 0 where all are. */
function lastUpTo(ascending: readonly number[], most: number): number {
  let [low, high] = [0, ascending.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if ((ascending[middle] as number) <= most) low = middle + 1
    else high = middle
  }
  return Math.max(0, low - 1)
}

/** The condition that leaves out the rows of folded groups, besides those that another condition leaves out. */
export function whereUnfolded(
  where: string,
  { name, isDate }: { readonly name: string; readonly isDate: boolean },
  folded: readonly SessionValue[],
): string {
  if (folded.length === 0) return where
  const known = folded.filter((value) => value !== null && typeof value !== 'object')
  const some = known.length === 0 ? [] : [`${name} is blank or not (${conditionOf(name, known, isDate)})`]
  const blanks = folded.includes(null) ? [`not (${name} is blank)`] : []
  const errors = folded.some((value) => typeof value === 'object' && value !== null)
  const shown = [...some, ...blanks].map((part) => `(${part})`).join(' and ')
  // What is asked of an error is an error itself, so that it is named before.
  const kept = errors ? `not (${name} is error)${shown === '' ? '' : ` and ${shown}`}` : `${name} is error or ${shown}`
  return where === '' ? kept : `(${where}) and (${kept})`
}
