import type { Column, RowSet } from '../../columns/index.js'
import { compareText, firstNumberFrom, Status } from '../../values/index.js'

/** Fewer rows than this are sorted by comparing them. */
const FEW_ROWS = 64

/** A key of an order. */
export interface SortKey {
  readonly column: Column | undefined
  readonly descending: boolean
}

/**
 * Rows in the order of some keys, values before blanks in both directions; ties in row order. No key may be an error.
 *
 * @param slots - in row order, unless `rows` tells where each stands
 */
export function sortRows(slots: Int32Array, keys: readonly SortKey[], rows: RowSet | null): Int32Array {
  const ranks = keys.map((key) => ranksOf(slots, key))
  const [first, second] = ranks
  if (first !== undefined && second === undefined && rows === null && slots.length > FEW_ROWS) return byOneKey(slots, first)
  const places = rows === null ? null : Int32Array.from(slots, (slot) => rows.placeOf(slot))
  const order = Uint32Array.from(slots, (_, index) => index).sort((a, b) => {
    for (const rank of ranks) {
      const [left, right] = [rank[a] as number, rank[b] as number]
      if (left !== right) return left < right ? -1 : 1
    }
    return places === null ? a - b : (places[a] as number) - (places[b] as number)
  })
  return Int32Array.from(order, (index) => slots[index] as number)
}

/** Numbers that stand as the keys of the rows do; a blank is beyond all. */
function ranksOf(slots: Int32Array, { column, descending }: SortKey): Float64Array {
  const ranks = new Float64Array(slots.length).fill(Number.POSITIVE_INFINITY)
  const texts = column?.type === 'text' ? textRanks(column, slots) : null
  for (let index = 0; index < slots.length; index++) {
    const slot = slots[index] as number
    if (column?.statusAt(slot) !== Status.value) continue
    const value = column.valueAt(slot)
    const rank = texts === null ? (value as number) : (texts.get(value as string) as number)
    // Taken from 0, so that no zero turns negative, which would stand before others.
    ranks[index] = descending ? 0 - rank : rank
  }
  return ranks
}

/** The place of each of the different texts among them. */
function textRanks(column: Column, slots: Int32Array): Map<string, number> {
  const texts = new Set<string>()
  for (const slot of slots) if (column.statusAt(slot) === Status.value) texts.add(column.valueAt(slot) as string)
  return new Map([...texts].sort(compareText).map((text, rank) => [text, rank]))
}

/** Sorts the keys alone, which the platform does fast, and finds each row's place among them; ties as they come. */
function byOneKey(slots: Int32Array, keys: Float64Array): Int32Array {
  const sorted = keys.slice().sort()
  const taken = new Uint32Array(sorted.length)
  const inOrder = new Int32Array(slots.length)
  for (let index = 0; index < slots.length; index++) {
    const first = firstNumberFrom(sorted, keys[index] as number)
    inOrder[first + (taken[first] as number)] = slots[index] as number
    taken[first] = (taken[first] as number) + 1
  }
  return inOrder
}
