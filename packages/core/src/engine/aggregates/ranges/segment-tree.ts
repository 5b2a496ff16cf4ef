import type { Column } from '../../../columns/index.js'
import { isFaultStatus, Status } from '../../../values/index.js'
import type { GroupSums } from '../incremental/index.js'

/** What is asked of a segment: how many values it has, their exact sum as well, or their ends. */
export type StretchNeed = 'count' | 'sum' | 'ends'

/** What segments of rows come to, taken in one after the other. */
export interface StretchTotal {
  /** Sum and count, as group 0. */
  readonly sums: GroupSums
  /** Status byte of the error named first; `NO_FAULT` for none. */
  fault: number
  lowest: number
  highest: number
}

/** In place of the status byte of an error: larger than any. */
export const NO_FAULT = 255

/** Rows of a leaf, as a power of two. */
const LEAF_SHIFT = 6
const LEAF_ROWS: number = 1 << LEAF_SHIFT

/**
 * Totals of segments of rows by halves of halves: node 1 is all, node n has the nodes 2n and 2n + 1 below it, and the last
 * level are leaves of 64 rows. A segment is a few nodes and two partial leaves; a row that changes has the nodes above it made
 * again. Sums are exact: a node whose sum does not fit a high and a low number is marked, and taken apart when it is asked for.
 */
export class SegmentTree {
  readonly #slots: Int32Array
  readonly #column: Column | undefined
  readonly #need: StretchNeed
  /** Number of the first leaf: a power of two. */
  readonly #leaves: number
  readonly #counts: Uint32Array
  readonly #faults: Uint8Array
  /** Sums: the high number of each node, its low number, and 1 where they are not the sum. Ends: highest and lowest. */
  readonly #high: Float64Array
  readonly #low: Float64Array
  readonly #isSpilled: Uint8Array

  /** @param slots - the rows in order; they stay the same while their values change */
  constructor(slots: Int32Array, column: Column | undefined, need: StretchNeed) {
    this.#slots = slots
    this.#column = column
    this.#need = need
    const leafCount = Math.max(1, Math.ceil(slots.length / LEAF_ROWS))
    this.#leaves = 2 ** Math.ceil(Math.log2(leafCount))
    const size = 2 * this.#leaves
    const numbers = need === 'count' ? 0 : size
    this.#counts = new Uint32Array(size)
    this.#faults = new Uint8Array(size).fill(NO_FAULT)
    this.#high = new Float64Array(numbers)
    this.#low = new Float64Array(numbers)
    if (need === 'ends') {
      this.#high.fill(Number.NEGATIVE_INFINITY)
      this.#low.fill(Number.POSITIVE_INFINITY)
    }
    this.#isSpilled = new Uint8Array(need === 'sum' ? size : 0)
    for (let leaf = 0; leaf < leafCount; leaf++) this.#makeLeaf(leaf)
    for (let node = this.#leaves - 1; node > 0; node--) this.#makeNode(node)
  }

  /** Bytes of its arrays. */
  get byteLength(): number {
    const arrays = [this.#counts, this.#faults, this.#high, this.#low, this.#isSpilled]
    return arrays.reduce((sum, { byteLength }) => sum + byteLength, 0)
  }

  /** The value of the row at a place is another one. */
  refresh(place: number): void {
    const leaf = place >> LEAF_SHIFT
    this.#makeLeaf(leaf)
    for (let node = (this.#leaves + leaf) >> 1; node > 0; node >>= 1) this.#makeNode(node)
  }

  /** Takes the rows from one place to another in. */
  take(from: number, to: number, into: StretchTotal): void {
    const first = (from + LEAF_ROWS - 1) >> LEAF_SHIFT
    const last = to >> LEAF_SHIFT
    if (first >= last) return this.#takeRows(from, to, into)
    this.#takeRows(from, first << LEAF_SHIFT, into)
    this.#takeRows(last << LEAF_SHIFT, to, into)
    let [left, right] = [first + this.#leaves, last + this.#leaves]
    while (left < right) {
      if ((left & 1) === 1) this.#takeNode(left++, into)
      if ((right & 1) === 1) this.#takeNode(--right, into)
      left >>= 1
      right >>= 1
    }
  }

  #takeNode(node: number, into: StretchTotal): void {
    const fault = this.#faults[node] as number
    if (fault < into.fault) into.fault = fault
    const count = this.#counts[node] as number
    if (count === 0) return
    if (this.#need === 'count') return into.sums.count(0, count)
    const [high, low] = [this.#high[node] as number, this.#low[node] as number]
    if (this.#need === 'ends') {
      into.sums.count(0, count)
      if (low < into.lowest) into.lowest = low
      if (high > into.highest) into.highest = high
    } else if (this.#isSpilled[node] === 0) into.sums.addTotal(0, high, low, count)
    else if (node < this.#leaves) {
      this.#takeNode(2 * node, into)
      this.#takeNode(2 * node + 1, into)
    } else this.#takeRows((node - this.#leaves) << LEAF_SHIFT, (node - this.#leaves + 1) << LEAF_SHIFT, into)
  }

  #takeRows(from: number, to: number, into: StretchTotal): void {
    const column = this.#column
    const last = Math.min(to, this.#slots.length)
    for (let place = from; place < last; place++) {
      const slot = this.#slots[place] as number
      const status = column?.statusAt(slot) ?? Status.blank
      if (isFaultStatus(status) && status < into.fault) into.fault = status
      if (status !== Status.value) continue
      if (this.#need === 'count') {
        into.sums.count(0, 1)
        continue
      }
      const value = column?.valueAt(slot) as number
      if (this.#need === 'sum') into.sums.add(0, value, 1)
      else {
        into.sums.count(0, 1)
        if (value < into.lowest) into.lowest = value
        if (value > into.highest) into.highest = value
      }
    }
  }

  #makeLeaf(leaf: number): void {
    const node = this.#leaves + leaf
    const column = this.#column
    let [count, fault] = [0, NO_FAULT]
    const sum = { high: 0, low: 0, isSpilled: false }
    let [lowest, highest] = [Number.POSITIVE_INFINITY, Number.NEGATIVE_INFINITY]
    const last = Math.min((leaf + 1) << LEAF_SHIFT, this.#slots.length)
    for (let place = leaf << LEAF_SHIFT; place < last; place++) {
      const slot = this.#slots[place] as number
      const status = column?.statusAt(slot) ?? Status.blank
      if (isFaultStatus(status)) fault = Math.min(fault, status)
      if (status !== Status.value) continue
      count++
      if (this.#need === 'count') continue
      const value = column?.valueAt(slot) as number
      if (this.#need === 'sum') addTo(sum, value)
      else {
        if (value < lowest) lowest = value
        if (value > highest) highest = value
      }
    }
    this.#counts[node] = count
    this.#faults[node] = fault
    if (this.#need === 'sum') this.#setSum(node, sum)
    if (this.#need === 'ends') this.#setEnds(node, lowest, highest)
  }

  #makeNode(node: number): void {
    const [left, right] = [2 * node, 2 * node + 1]
    this.#counts[node] = (this.#counts[left] as number) + (this.#counts[right] as number)
    this.#faults[node] = Math.min(this.#faults[left] as number, this.#faults[right] as number)
    if (this.#need === 'ends') {
      const lowest = Math.min(this.#low[left] as number, this.#low[right] as number)
      return this.#setEnds(node, lowest, Math.max(this.#high[left] as number, this.#high[right] as number))
    }
    if (this.#need === 'count') return
    const isSpilled = this.#isSpilled[left] === 1 || this.#isSpilled[right] === 1
    const sum = { high: this.#high[left] as number, low: this.#low[left] as number, isSpilled }
    addTo(sum, this.#high[right] as number)
    addTo(sum, this.#low[right] as number)
    this.#setSum(node, sum)
  }

  #setSum(node: number, { high, low, isSpilled }: PairSum): void {
    this.#high[node] = high
    this.#low[node] = low
    this.#isSpilled[node] = isSpilled ? 1 : 0
  }

  #setEnds(node: number, lowest: number, highest: number): void {
    this.#low[node] = lowest
    this.#high[node] = highest
  }
}

/** A sum as a high and a low number; spilled when a bit did not fit. */
interface PairSum {
  high: number
  low: number
  isSpilled: boolean
}

/** Adds a number without an error, or marks the sum as spilled (error-free addition: Knuth, TAOCP 2, 4.2.2, theorem B). */
function addTo(sum: PairSum, value: number): void {
  const total = sum.high + value
  const part = total - sum.high
  const error = sum.high - (total - part) + (value - part)
  const low = sum.low + error
  const lowPart = low - sum.low
  const lost = sum.low - (low - lowPart) + (error - lowPart)
  if (lost !== 0 || !(total - total === 0)) sum.isSpilled = true
  sum.high = total
  sum.low = low
}
