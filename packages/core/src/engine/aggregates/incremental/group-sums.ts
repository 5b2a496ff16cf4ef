import { divideSum, type ExactParts, ExactSum, exactParts } from '../../../values/index.js'

/** About what an exact sum takes: itself, a list of partials and its place among the spilled ones. */
const BYTES_OF_SPILLED = 330

/**
 * Exact sums and counts by group, in typed arrays: a high and a low number a group whose sum is the exact total (error-free
 * addition: Knuth, The Art of Computer Programming 2, 4.2.2, theorem B). A group whose low part would have to be rounded goes
 * on as an `ExactSum` of its own. Taking a value away adds its negative, so it is a true inverse.
 */
export class GroupSums {
  #high: Float64Array
  #low: Float64Array
  #counts: Uint32Array
  readonly #spilled: Map<number, ExactSum> = new Map()

  /** @param groups - for how many there is room at first */
  constructor(groups: number = 64) {
    this.#high = new Float64Array(groups)
    this.#low = new Float64Array(groups)
    this.#counts = new Uint32Array(groups)
  }

  /** Adds a value to a group, or takes it away. */
  add(group: number, value: number, by: 1 | -1): void {
    if (group >= this.#high.length) this.#grow(group)
    this.#counts[group] = (this.#counts[group] as number) + by
    const signed = by * value
    const spilled = this.#spilled.get(group)
    if (spilled !== undefined) return spilled.add(signed)
    const high = this.#high[group] as number
    const sum = high + signed
    const part = sum - high
    const error = high - (sum - part) + (signed - part)
    const low = this.#low[group] as number
    const lowSum = low + error
    const lowPart = lowSum - low
    const lost = low - (lowSum - lowPart) + (error - lowPart)
    // Where a bit would be lost, or the sum goes beyond binary64, whole partials go on.
    if (lost !== 0 || !(sum - sum === 0)) return this.#spill(group, high, low, signed)
    this.#high[group] = sum
    this.#low[group] = lowSum
  }

  #spill(group: number, high: number, low: number, value: number): void {
    const exact = new ExactSum()
    for (const part of [high, low, value]) exact.add(part)
    this.#spilled.set(group, exact)
  }

  /** Counts values that have no size, or takes them away. */
  count(group: number, by: number): void {
    if (group >= this.#high.length) this.#grow(group)
    this.#counts[group] = (this.#counts[group] as number) + by
  }

  /** Adds the exact sum of so many values, at least one, as a high and a low number. */
  addTotal(group: number, high: number, low: number, count: number): void {
    this.add(group, high, 1)
    if (low !== 0) this.add(group, low, 1)
    this.count(group, count - (low === 0 ? 1 : 2))
  }

  /** How many values a group has. */
  countOf(group: number): number {
    return this.#counts[group] ?? 0
  }

  /** The sum of a group, rounded once; infinite beyond binary64. */
  sumOf(group: number): number {
    return this.#spilled.get(group)?.result() ?? (this.#high[group] ?? 0) + (this.#low[group] ?? 0) + 0
  }

  /** The sum of a group as a whole number of some power of two. */
  exactOf(group: number): ExactParts {
    const spilled = this.#spilled.get(group)
    if (spilled !== undefined) return spilled.exact()
    const [high, low] = [exactParts(this.#high[group] ?? 0), exactParts(this.#low[group] ?? 0)]
    if (low.mantissa === 0n) return high
    const exponent = Math.min(high.exponent, low.exponent)
    const mantissa = (high.mantissa << BigInt(high.exponent - exponent)) + (low.mantissa << BigInt(low.exponent - exponent))
    return { mantissa, exponent }
  }

  /** The mean of a group with values, rounded once. */
  meanOf(group: number): number {
    const low = this.#low[group] ?? 0
    const spilled = this.#spilled.get(group)
    if (spilled === undefined) {
      if (low === 0) return (this.#high[group] as number) / this.countOf(group) + 0
      const divided = divideSum(this.#high[group] as number, low, this.countOf(group))
      if (!Number.isNaN(divided)) return divided
    }
    const exact = spilled ?? new ExactSum()
    if (spilled === undefined) for (const part of [this.#high[group] as number, low]) exact.add(part)
    return exact.times(1, this.countOf(group))
  }

  /** Bytes of its arrays, and about what its spilled sums take. */
  get byteLength(): number {
    return this.#high.byteLength + this.#low.byteLength + this.#counts.byteLength + this.#spilled.size * BYTES_OF_SPILLED
  }

  /** Begins a group anew. */
  clearGroup(group: number): void {
    this.#spilled.delete(group)
    if (group >= this.#high.length) return
    this.#high[group] = 0
    this.#low[group] = 0
    this.#counts[group] = 0
  }

  /** Begins anew. */
  clear(): void {
    this.#high.fill(0)
    this.#low.fill(0)
    this.#counts.fill(0)
    this.#spilled.clear()
  }

  #grow(group: number): void {
    const size = Math.max(group + 1, this.#high.length * 2)
    const [high, low, counts] = [new Float64Array(size), new Float64Array(size), new Uint32Array(size)]
    high.set(this.#high)
    low.set(this.#low)
    counts.set(this.#counts)
    this.#high = high
    this.#low = low
    this.#counts = counts
  }
}
