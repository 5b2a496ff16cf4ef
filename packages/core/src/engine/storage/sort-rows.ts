import type { Column, RowSet } from '../../columns/index.js'
import { compareText, Status } from '../../values/index.js'
import { type Order, orderByBuckets, orderByNumbers } from './radix-order.js'

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
  const places = rows === null ? null : Float64Array.from(slots, (slot) => rows.placeOf(slot))
  if (places !== null) ranks.push(places)
  if (slots.length > FEW_ROWS) return slotsIn(orderByRanks(ranks, slots.length), slots)
  const order = Uint32Array.from(slots, (_, index) => index).sort((a, b) => {
    for (const rank of ranks) {
      const [left, right] = [rank[a] as number, rank[b] as number]
      if (left !== right) return left < right ? -1 : 1
    }
    return a - b
  })
  return slotsIn(order, slots)
}

/** Rows in groups, one group after the other. */
export interface GroupedSlots {
  readonly slots: Int32Array
  /** Where each group begins, with the end of the last. */
  readonly starts: Uint32Array
}

/**
 * Rows group by group, those of a group in the order of some keys as `sortRows` puts them.
 *
 * @param slots - in row order
 * @param groups - the group of each of them, from 0 and below `count`
 */
export function sortInGroups(slots: Int32Array, groups: Int32Array, count: number, keys: readonly SortKey[]): GroupedSlots {
  const { order, starts } = orderByBuckets(asTheyCome(slots.length), groups, count)
  const grouped = slotsIn(order, slots)
  if (keys.length === 0) return { slots: grouped, starts }
  const ranks = keys.map((key) => ranksOf(grouped, key))
  for (let group = 0; group < count; group++) {
    const [from, to] = [starts[group] as number, starts[group + 1] as number]
    if (to - from <= FEW_ROWS) sortFew(grouped, ranks, from, to)
    else {
      const own = orderByRanks(
        ranks.map((rank) => rank.subarray(from, to)),
        to - from,
      )
      grouped.set(slotsIn(own, grouped.subarray(from, to)), from)
    }
  }
  return { slots: grouped, starts }
}

/** Puts a few neighbouring rows in the order of their ranks, each behind those that it is not before (insertion sort). */
function sortFew(slots: Int32Array, ranks: readonly Float64Array[], from: number, to: number): void {
  for (let at = from + 1; at < to; at++)
    for (let place = at; place > from && isBefore(ranks, place, place - 1); place--) {
      swap(slots, place)
      for (const rank of ranks) swap(rank, place)
    }
}

function isBefore(ranks: readonly Float64Array[], one: number, other: number): boolean {
  for (const rank of ranks) {
    const [left, right] = [rank[one] as number, rank[other] as number]
    if (left !== right) return left < right
  }
  return false
}

/** Lets a place and the one before it take turns. */
function swap(list: Int32Array | Float64Array, place: number): void {
  const own = list[place] as number
  list[place] = list[place - 1] as number
  list[place - 1] = own
}

/** The order by several ranks, the first before the others; ties as they come. */
function orderByRanks(ranks: readonly Float64Array[], count: number): Order {
  return ranks.reduceRight((order, rank) => orderByNumbers(order, rank), asTheyCome(count))
}

function asTheyCome(count: number): Order {
  const order: Order = new Uint32Array(count)
  for (let index = 0; index < count; index++) order[index] = index
  return order
}

function slotsIn(order: Order, slots: Int32Array): Int32Array {
  const inOrder = new Int32Array(order.length)
  for (let index = 0; index < order.length; index++) inOrder[index] = slots[order[index] as number] as number
  return inOrder
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
