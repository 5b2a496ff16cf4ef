import type { Cell } from '../../../columns/index.js'
import { isFaultStatus, Status } from '../../../values/index.js'
import type { AggregateParts } from './aggregate-parts.js'
import { GroupFaults } from './group-faults.js'
import { GroupSums } from './group-sums.js'
import { type Contribution, IncrementalAggregate } from './incremental-aggregate.js'

/** Values between these sizes have squares whose error is a number too. */
const SMALLEST = 2 ** -480
const LARGEST = 2 ** 480

/** Exact sums of values and of their squares by group: what a variance follows from. */
export class IncrementalVariance extends IncrementalAggregate {
  readonly #sums: GroupSums = new GroupSums()
  readonly #squares: GroupSums = new GroupSums()
  readonly #faults: GroupFaults = new GroupFaults()
  /** Values by group whose squares cannot be kept so; such a group is looked at again. */
  readonly #extreme: Map<number, number> = new Map()
  readonly #lookAgain: (group: number) => Cell

  /** @param lookAgain - what the rows of a group give that holds extreme values */
  constructor(parts: AggregateParts, lookAgain: (group: number) => Cell) {
    super(parts)
    this.#lookAgain = lookAgain
  }

  /** True for aggregates that follow from these sums. */
  static canKeep({ record, args, keys }: AggregateParts): boolean {
    return record.ofMoments !== undefined && keys.length === 0 && args.length === 1
  }

  get byteLength(): number {
    return this.#sums.byteLength + this.#squares.byteLength
  }

  resultOf(group: number): Cell {
    const fault = this.#faults.of(group)
    if (fault !== null) return fault
    if (this.#extreme.has(group)) return this.#lookAgain(group)
    const moments = { count: this.#sums.countOf(group), sum: this.#sums.exactOf(group), squares: this.#squares.exactOf(group) }
    return this.parts.record.ofMoments?.(moments) ?? null
  }

  protected change(group: number, { whereStatus, holds, status, value }: Contribution, by: 1 | -1): void {
    if (isFaultStatus(whereStatus)) return this.#faults.count(group, whereStatus, by)
    if (!holds) return
    if (isFaultStatus(status)) return this.#faults.count(group, status, by)
    if (status !== Status.value) return
    const number = value as number
    const size = Math.abs(number)
    if (number !== 0 && (size < SMALLEST || size > LARGEST)) {
      const count = (this.#extreme.get(group) ?? 0) + by
      if (count === 0) this.#extreme.delete(group)
      else this.#extreme.set(group, count)
      return
    }
    const square = number * number
    this.#sums.add(group, number, by)
    this.#squares.add(group, square, by)
    this.#squares.add(group, errorOfSquare(number, square), by)
  }

  protected clearGroup(group: number): void {
    this.#sums.clearGroup(group)
    this.#squares.clearGroup(group)
    this.#faults.clear(group)
    this.#extreme.delete(group)
  }

  protected takeAll(): void {
    const { store, groups } = this.parts
    this.#sums.clear()
    this.#squares.clear()
    this.#faults.clear()
    this.#extreme.clear()
    for (let slot = 0; slot < store.rows.slotCount; slot++) {
      const group = groups === null ? 0 : groups.groupOf(slot)
      if (group >= 0 && store.rows.isLive(slot)) this.change(group, this.contribution(slot, false), 1)
    }
  }
}

/** What a square lost by rounding, exactly (Dekker, "A floating-point technique for extending the available precision", 1971). */
function errorOfSquare(value: number, square: number): number {
  const scaled = value * (2 ** 27 + 1)
  const high = scaled - (scaled - value)
  const low = value - high
  return low * low - (square - high * high - 2 * high * low)
}
