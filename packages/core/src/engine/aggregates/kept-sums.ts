import { BLOCK_MASK, BLOCK_SHIFT, type Cell, type Column, type Selection } from '../../columns/index.js'
import { CellFault, FAULT_CODES, faultOfStatus, isFaultStatus, Status } from '../../values/index.js'
import { type Round, slotsOf } from '../round.js'
import type { AggregateParts } from './aggregate-node.js'
import { GroupSums } from './group-sums.js'
import { isSummed, summedResult } from './taken-rows.js'

/** What a row adds to its group: status and value of its condition and of its argument. */
interface Contribution {
  readonly whereStatus: number
  readonly holds: boolean
  readonly status: number
  readonly value: number
}

/** Sums and counts by group that follow single rows: what a row added is taken away, what it adds now is added. */
export class KeptSums {
  readonly #parts: AggregateParts
  readonly #sums: GroupSums = new GroupSums()
  /** Errors by group and code. */
  readonly #faults: Map<number, Uint32Array> = new Map()
  /** The storage that was followed; another one in its place says nothing of what was there before. */
  #arg: Column | undefined
  #where: Column | undefined
  #isBuilt = false

  constructor(parts: AggregateParts) {
    this.#parts = parts
  }

  /** True for aggregates that can be kept so. */
  static canKeep(parts: AggregateParts): boolean {
    return isSummed(parts)
  }

  /** Follows a round. Gives the groups touched, or null when all were computed anew. */
  follow(round: Round, inFull: boolean): Set<number> | null {
    const { store, groups, args, where } = this.#parts
    const [arg, condition] = this.#storage()
    const { everyRow, inserted, removed } = round.rowsOf(store)
    const isSame = this.#isBuilt && arg === this.#arg && condition === this.#where
    const isKnown = [arg, condition].every((column) => column?.former().isKnown !== false)
    for (const column of [arg, condition]) if (column !== undefined) round.clearAfterwards(column)
    if (inFull || everyRow || !isSame || !isKnown) {
      this.rebuild()
      return null
    }
    const moves = new Map(groups?.movesIn(round).map((move) => [move.slot, move.from]))
    const fresh = new Set(slotsOf(inserted))
    const slots = new Set([...removed, ...fresh, ...moves.keys()])
    for (const id of [...args, ...(where === null ? [] : [where])])
      for (const slot of slotsOf(round.changedIn(id))) slots.add(slot)
    const dirty = new Set<number>()
    const change = (group: number, contribution: Contribution, by: 1 | -1): void => {
      if (group < 0) return
      dirty.add(group)
      this.#add(group, contribution, by)
    }
    for (const slot of slots) {
      const now = groups === null ? 0 : groups.groupOf(slot)
      const wasThere = removed.has(slot) || !fresh.has(slot)
      if (wasThere) change(moves.get(slot) ?? now, this.#before(slot), -1)
      if (store.rows.isLive(slot)) change(now, this.#now(slot), 1)
    }
    return dirty
  }

  /** The result of a group. */
  resultOf(group: number): Cell {
    const faults = this.#faults.get(group)
    const first = faults?.findIndex((count) => count > 0) ?? -1
    if (first >= 0) return new CellFault(FAULT_CODES[first] as (typeof FAULT_CODES)[number])
    return summedResult(this.#parts, this.#sums, group)
  }

  /** Lets a round go by whose groups are computed anew later. */
  passOver(round: Round): void {
    for (const column of this.#storage()) if (column !== undefined) round.clearAfterwards(column)
  }

  /** Computes some groups anew; false when all were, since the columns are others now. */
  recompute(groups: Iterable<number>): boolean {
    const [arg, condition] = this.#storage()
    const isSame = this.#isBuilt && arg === this.#arg && condition === this.#where
    if (!isSame || this.#parts.groups === null) {
      this.rebuild()
      return isSame
    }
    for (const group of groups) {
      this.#sums.clearGroup(group)
      this.#faults.delete(group)
      for (const slot of this.#parts.groups.members.of(group)) this.#add(group, this.#contribution(slot, false), 1)
    }
    return true
  }

  #storage(): readonly [Column | undefined, Column | undefined] {
    const { store, args, where } = this.#parts
    return [args[0] === undefined ? undefined : store.column(args[0]), where === null ? undefined : store.column(where)]
  }

  /** Computes all groups anew. */
  rebuild(): void {
    const { store } = this.#parts
    ;[this.#arg, this.#where] = this.#storage()
    // From here on it matters what cells held before.
    for (const column of this.#storage()) column?.former()
    this.#sums.clear()
    this.#faults.clear()
    for (let block = 0; block < store.blockCount; block++) this.#addBlock(block, store.liveRows(block))
    this.#isBuilt = true
  }

  /** Adds all rows of a block, without an object a row. */
  #addBlock(block: number, { rows, count }: Selection): void {
    const { groups, args, where, record } = this.#parts
    const condition = this.#where?.peek(block)
    const arg = this.#arg?.peek(block)
    const counts = record.name === 'count'
    const first = block << BLOCK_SHIFT
    for (let k = 0; k < count; k++) {
      const row = rows === null ? k : (rows[k] as number)
      const group = groups === null ? 0 : groups.groupOf(first + row)
      if (group < 0) continue
      if (where !== null) {
        const status = condition?.status[row] ?? Status.blank
        if (status > Status.blank) this.#countFault(group, status, 1)
        if (status !== Status.value || condition?.values[row] !== 1) continue
      }
      const status = args.length === 0 ? Status.value : (arg?.status[row] ?? Status.blank)
      if (status > Status.blank) this.#countFault(group, status, 1)
      else if (status === Status.value) {
        if (counts) this.#sums.count(group, 1)
        else this.#sums.add(group, arg?.values[row] as number, 1)
      }
    }
  }

  #now(slot: number): Contribution {
    return this.#contribution(slot, false)
  }

  #before(slot: number): Contribution {
    return this.#contribution(slot, true)
  }

  #contribution(slot: number, isBefore: boolean): Contribution {
    const { args, where } = this.#parts
    const of = this.#where
    const whereStatus = where === null ? Status.value : statusIn(of, slot, isBefore)
    const holds = where === null || (whereStatus === Status.value && valueIn(of, slot, isBefore) === 1)
    if (!holds || args.length === 0) return { whereStatus, holds, status: Status.value, value: 0 }
    const status = statusIn(this.#arg, slot, isBefore)
    const value = status === Status.value ? valueIn(this.#arg, slot, isBefore) : 0
    return { whereStatus, holds, status, value: typeof value === 'number' ? value : 0 }
  }

  #add(group: number, { whereStatus, holds, status, value }: Contribution, by: 1 | -1): void {
    if (isFaultStatus(whereStatus)) return this.#countFault(group, whereStatus, by)
    if (!holds) return
    if (isFaultStatus(status)) this.#countFault(group, status, by)
    else if (status === Status.value) {
      if (this.#parts.record.name === 'count') this.#sums.count(group, by)
      else this.#sums.add(group, value, by)
    }
  }

  #countFault(group: number, status: number, by: 1 | -1): void {
    let counts = this.#faults.get(group)
    if (counts === undefined) {
      counts = new Uint32Array(FAULT_CODES.length)
      this.#faults.set(group, counts)
    }
    const index = FAULT_CODES.indexOf(faultOfStatus(status))
    counts[index] = (counts[index] as number) + by
    if (counts.every((count) => count === 0)) this.#faults.delete(group)
  }
}

function statusIn(column: Column | undefined, slot: number, isBefore: boolean): number {
  const former = isBefore ? column?.former().statusOf(slot) : undefined
  return former ?? column?.statusAt(slot) ?? Status.blank
}

function valueIn(column: Column | undefined, slot: number, isBefore: boolean): number | string | undefined {
  const former = isBefore ? column?.former() : undefined
  if (former?.statusOf(slot) !== undefined) return former.valueOf(slot)
  return column?.peek(slot >> BLOCK_SHIFT)?.values[slot & BLOCK_MASK]
}
