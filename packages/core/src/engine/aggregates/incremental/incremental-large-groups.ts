import type { Cell } from '../../../columns/index.js'
import { isFaultStatus } from '../../../values/index.js'
import type { AggregateParts } from './aggregate-parts.js'
import { GroupFaults } from './group-faults.js'
import { type Contribution, IncrementalAggregate } from './incremental-aggregate.js'

/** Groups of at most so many rows are looked at again, which takes less than keeping something of them. */
const MOST_LOOKED_AT = 1000

/** Something kept of each large group that someone asks for; small groups are looked at again. */
export abstract class IncrementalLargeGroups<Kept> extends IncrementalAggregate {
  readonly #kept: Map<number, Kept> = new Map()
  /** Errors that are the result whatever the values are. */
  protected readonly faults: GroupFaults = new GroupFaults()
  readonly #lookAgain: (group: number) => Cell

  /** @param lookAgain - what the rows of a small group give */
  constructor(parts: AggregateParts, lookAgain: (group: number) => Cell) {
    super(parts)
    this.#lookAgain = lookAgain
  }

  get byteLength(): number {
    let bytes = 0
    for (const kept of this.#kept.values()) bytes += this.bytesOf(kept)
    return bytes
  }

  resultOf(group: number): Cell {
    const { groups, store } = this.parts
    const size = groups === null ? store.rows.rowCount : groups.members.sizeOf(group)
    if (size <= MOST_LOOKED_AT) {
      this.clearGroup(group)
      return this.#lookAgain(group)
    }
    const kept = this.#kept.get(group) ?? this.#gather(group)
    return this.faults.of(group) ?? this.resultFrom(kept)
  }

  #gather(group: number): Kept {
    const { groups, store } = this.parts
    this.faults.clear(group)
    const kept = this.begin()
    this.#kept.set(group, kept)
    for (const slot of groups === null ? store.rows.inOrder() : groups.members.of(group))
      this.change(group, this.contribution(slot, false), 1)
    this.finish(kept)
    return kept
  }

  /** What is kept of a group without rows. */
  protected abstract begin(): Kept

  /** Ends taking in the rows of a group, where that is more than one by one. */
  protected finish(_kept: Kept): void {}

  /** The result of what is kept. */
  protected abstract resultFrom(kept: Kept): Cell

  /** Bytes of what is kept of a group. */
  protected abstract bytesOf(kept: Kept): number

  /** A row for which the condition holds counts, or counts no longer; false where the group must be gone through again. */
  protected abstract take(kept: Kept, contribution: Contribution, by: 1 | -1, group: number): boolean

  protected change(group: number, contribution: Contribution, by: 1 | -1): void {
    const kept = this.#kept.get(group)
    // A group that no one has asked for yet is taken in whole once someone does.
    if (kept === undefined) return
    if (isFaultStatus(contribution.whereStatus)) this.faults.count(group, contribution.whereStatus, by)
    else if (contribution.holds && !this.take(kept, contribution, by, group)) this.clearGroup(group)
  }

  protected clearGroup(group: number): void {
    this.#kept.delete(group)
    this.faults.clear(group)
  }

  protected takeAll(): void {
    this.#kept.clear()
    this.faults.clear()
  }
}
