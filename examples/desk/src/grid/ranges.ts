import type { GridPlace } from './moves'

/** A block of cells by its places, all included. */
export interface Range {
  readonly top: number
  readonly bottom: number
  readonly left: number
  readonly right: number
}

/** The block between two cells. */
export function rangeOf(at: GridPlace, anchor: GridPlace | null): Range {
  const other = anchor ?? at
  return {
    top: Math.min(at.place, other.place),
    bottom: Math.max(at.place, other.place),
    left: Math.min(at.column, other.column),
    right: Math.max(at.column, other.column),
  }
}

const known = new Map<string, readonly [number, number]>()
/** Two places as a pair that is the same each time, so that rows know that nothing is different. */
export function samePair(left: number, right: number): readonly [number, number] {
  const key = `${left} ${right}`
  const before = known.get(key)
  if (before !== undefined) return before
  const made = [left, right] as const
  known.set(key, made)
  return made
}
