/** Fewer numbers than this are taken apart into smaller digits, so that there is less to count. */
const MANY_NUMBERS = 20_000

/** What is put in order: places in a list of numbers. */
export type Order = Uint32Array<ArrayBuffer>

/**
 * Puts places in the order of the numbers that stand there, equal ones as they come. No number may be none (NaN).
 *
 * Source: radix sort from the least significant digit: D. E. Knuth, "The Art of Computer Programming" 3, 5.2.5. Numbers of binary64
 * are in the order of their bits, those below zero the other way round.
 */
export function orderByNumbers(order: Order, numbers: Float64Array): Order {
  const whole = asBuckets(numbers)
  if (whole !== null) return orderByBuckets(order, whole.buckets, whole.count).order
  const isMany = numbers.length >= MANY_NUMBERS
  const [low, high] = bitsOf(numbers)
  const bits = isMany ? 16 : 8
  let sorted = order
  for (const word of [low, high])
    for (let shift = 0; shift < 32; shift += bits) sorted = byDigit(sorted, word, shift, (1 << bits) - 1)
  return sorted
}

/**
 * Puts places in the order of the buckets that they belong to, as they come in each.
 *
 * @returns the order, and where each bucket begins in it, with the end of the last
 */
export function orderByBuckets(
  order: Order,
  buckets: Int32Array | Uint32Array,
  count: number,
): { readonly order: Order; readonly starts: Uint32Array } {
  const starts = new Uint32Array(count + 1)
  for (let at = 0; at < order.length; at++) countUp(starts, (buckets[order[at] as number] as number) + 1)
  for (let bucket = 1; bucket <= count; bucket++) starts[bucket] = (starts[bucket] as number) + (starts[bucket - 1] as number)
  const next = starts.slice()
  const sorted = new Uint32Array(order.length)
  for (let at = 0; at < order.length; at++) {
    const place = order[at] as number
    sorted[countUp(next, buckets[place] as number)] = place
  }
  return { order: sorted, starts }
}

/** Whole numbers near each other, counted from the smallest; what is beyond all numbers comes after them. Null for others. */
function asBuckets(numbers: Float64Array): { readonly buckets: Uint32Array; readonly count: number } | null {
  let least = Number.POSITIVE_INFINITY
  let most = Number.NEGATIVE_INFINITY
  for (let at = 0; at < numbers.length; at++) {
    const number = numbers[at] as number
    if (number === Number.POSITIVE_INFINITY) continue
    if (!Number.isInteger(number)) return null
    if (number < least) least = number
    if (number > most) most = number
  }
  const count = most < least ? 1 : most - least + 2
  if (count > Math.max(256, numbers.length)) return null
  const buckets = new Uint32Array(numbers.length)
  for (let at = 0; at < numbers.length; at++) {
    const number = numbers[at] as number
    buckets[at] = number === Number.POSITIVE_INFINITY ? count - 1 : number - least
  }
  return { buckets, count }
}

/** The bits of numbers, so that they stand in the order of the numbers: the lower halves, and the upper ones. */
function bitsOf(numbers: Float64Array): readonly [low: Uint32Array, high: Uint32Array] {
  const own = new Float64Array(1)
  const words = new Uint32Array(own.buffer)
  const [low, high] = [new Uint32Array(numbers.length), new Uint32Array(numbers.length)]
  for (let at = 0; at < numbers.length; at++) {
    // Added to, so that no zero is a negative one.
    own[0] = (numbers[at] as number) + 0
    const [lower, upper] = [words[LOWER] as number, words[UPPER] as number]
    const isNegative = upper >>> 31 === 1
    low[at] = isNegative ? ~lower : lower
    high[at] = isNegative ? ~upper : upper ^ 0x8000_0000
  }
  return [low, high]
}

/** Which half of a number comes first in memory. */
const LOWER = new Uint32Array(Float64Array.of(1).buffer)[0] === 0 ? 0 : 1
const UPPER = 1 - LOWER

function byDigit(order: Order, words: Uint32Array, shift: number, mask: number): Order {
  const next = new Uint32Array(mask + 1)
  for (let at = 0; at < order.length; at++) countUp(next, ((words[order[at] as number] as number) >>> shift) & mask)
  let from = 0
  for (let digit = 0; digit <= mask; digit++) {
    const count = next[digit] as number
    // A digit that all of them have in common changes nothing.
    if (count === order.length) return order
    next[digit] = from
    from += count
  }
  const sorted = new Uint32Array(order.length)
  for (let at = 0; at < order.length; at++) {
    const place = order[at] as number
    sorted[countUp(next, ((words[place] as number) >>> shift) & mask)] = place
  }
  return sorted
}

/** Counts one more at a place, and says how many there were before. */
function countUp(counts: Uint32Array, place: number): number {
  const count = counts[place] as number
  counts[place] = count + 1
  return count
}
