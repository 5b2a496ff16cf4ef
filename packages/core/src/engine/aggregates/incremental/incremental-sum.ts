import { BLOCK_SHIFT, type Cell, type Selection } from '../../../columns/index.js'
import { isFaultStatus, Status } from '../../../values/index.js'
import { summedResult } from './accumulator.js'
import { GroupFaults } from './group-faults.js'
import { GroupSums } from './group-sums.js'
import { type Contribution, IncrementalAggregate } from './incremental-aggregate.js'

/** Sums and counts by group. */
export class IncrementalSum extends IncrementalAggregate {
  readonly #sums: GroupSums = new GroupSums()
  readonly #faults: GroupFaults = new GroupFaults()

  get byteLength(): number {
    return this.#sums.byteLength
  }

  resultOf(group: number): Cell {
    return this.#faults.of(group) ?? summedResult(this.parts, this.#sums, group)
  }

  protected clearGroup(group: number): void {
    this.#sums.clearGroup(group)
    this.#faults.clear(group)
  }

  protected takeAll(): void {
    const { store } = this.parts
    this.#sums.clear()
    this.#faults.clear()
    for (let block = 0; block < store.blockCount; block++) this.#addBlock(block, store.liveRows(block))
  }

  /** Adds all rows of a block, without an object a row. */
  #addBlock(block: number, { rows, count }: Selection): void {
    const { groups, args, where, record } = this.parts
    const condition = this.where?.peek(block)
    const arg = this.arg?.peek(block)
    const counts = record.name === 'count'
    const first = block << BLOCK_SHIFT
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      const group = groups === null ? 0 : groups.groupOf(first + row)
      if (group < 0) continue
      if (where !== null) {
        const status = condition?.status[row] ?? Status.blank
        if (status > Status.blank) this.#faults.count(group, status, 1)
        if (status !== Status.value || condition?.values[row] !== 1) continue
      }
      const status = args.length === 0 ? Status.value : (arg?.status[row] ?? Status.blank)
      if (status > Status.blank) this.#faults.count(group, status, 1)
      else if (status === Status.value) {
        if (counts) this.#sums.count(group, 1)
        else this.#sums.add(group, arg?.values[row] as number, 1)
      }
    }
  }

  protected change(group: number, { whereStatus, holds, status, value }: Contribution, by: 1 | -1): void {
    if (isFaultStatus(whereStatus)) return this.#faults.count(group, whereStatus, by)
    if (!holds) return
    if (isFaultStatus(status)) this.#faults.count(group, status, by)
    else if (status === Status.value) {
      if (this.parts.record.name === 'count') this.#sums.count(group, by)
      else this.#sums.add(group, value as number, by)
    }
  }
}
