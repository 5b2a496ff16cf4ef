import type { Cell } from '../../columns/index.js'
import { isFaultStatus, Status } from '../../values/index.js'
import type { AggregateParts } from './aggregate-node.js'
import { GroupFaults } from './group-faults.js'
import { type Contribution, KeptRows } from './kept-rows.js'
import { ValueList } from './value-list.js'

/** Groups of at most so many rows are looked at again, which takes less than keeping them in order. */
const MOST_LOOKED_AT = 1000

/** The values of large groups in order: smallest, largest, middle, commonest and number of different ones follow single rows. */
export class KeptOrder extends KeptRows {
  readonly #lists: Map<number, ValueList> = new Map()
  readonly #faults: GroupFaults = new GroupFaults()
  readonly #lookAgain: (group: number) => Cell

  /** @param lookAgain - what the rows of a small group give */
  constructor(parts: AggregateParts, lookAgain: (group: number) => Cell) {
    super(parts)
    this.#lookAgain = lookAgain
  }

  /** True for aggregates that follow from their values in order. */
  static canKeep({ record, args, keys, second }: AggregateParts): boolean {
    return record.ofSorted !== undefined && keys.length === 0 && (args.length === 1 || second !== undefined)
  }

  get byteLength(): number {
    let values = 0
    for (const list of this.#lists.values()) values += list.size
    return values * 8
  }

  resultOf(group: number): Cell {
    const { groups, store, record, second } = this.parts
    const size = groups === null ? store.rows.rowCount : groups.members.sizeOf(group)
    if (size <= MOST_LOOKED_AT) {
      this.clearGroup(group)
      return this.#lookAgain(group)
    }
    const list = this.#lists.get(group) ?? this.#listOf(group)
    return this.#faults.of(group) ?? record.ofSorted?.(list, second ?? null) ?? null
  }

  #listOf(group: number): ValueList {
    const { groups, store, types } = this.parts
    this.#faults.clear(group)
    const values: (number | string)[] = []
    for (const slot of groups === null ? store.rows.inOrder() : groups.members.of(group)) {
      const value = this.#take(group, this.contribution(slot, false), 1)
      if (value !== null) values.push(value)
    }
    const list = new ValueList(types[0] === 'boolean')
    list.fill(values)
    this.#lists.set(group, list)
    return list
  }

  /** The value that a row counts with; null where it does not. Errors are counted on the way. */
  #take(group: number, { whereStatus, holds, status, value }: Contribution, by: 1 | -1): number | string | null {
    if (isFaultStatus(whereStatus)) this.#faults.count(group, whereStatus, by)
    else if (holds && isFaultStatus(status)) this.#faults.count(group, status, by)
    else if (holds && status === Status.value) return value
    return null
  }

  protected change(group: number, contribution: Contribution, by: 1 | -1): void {
    const list = this.#lists.get(group)
    // A group that nobody has put in order yet is taken in whole once somebody asks.
    if (list === undefined) return
    const value = this.#take(group, contribution, by)
    if (value === null) return
    if (by > 0) list.add(value)
    else list.remove(value)
  }

  protected clearGroup(group: number): void {
    this.#lists.delete(group)
    this.#faults.clear(group)
  }

  protected takeAll(): void {
    this.#lists.clear()
    this.#faults.clear()
  }
}
