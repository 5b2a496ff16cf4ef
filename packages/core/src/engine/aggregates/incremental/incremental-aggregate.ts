import type { Cell, Column } from '../../../columns/index.js'
import { isFaultStatus, Status } from '../../../values/index.js'
import type { PropagationPass } from '../../propagation/index.js'
import { slotsOf } from '../../storage/index.js'
import type { AggregateParts } from './aggregate-parts.js'

/** What a row adds to its group: status and value of its condition and of its argument, and the worst status of its keys. */
export interface Contribution {
  readonly slot: number
  readonly keyStatus: number
  readonly whereStatus: number
  readonly holds: boolean
  readonly status: number
  readonly value: number | string
}

/**
 * What is kept of each group while single rows come, go and change: what a row added is taken away, what it adds now is added.
 * What that is, is left to the kinds.
 */
export abstract class IncrementalAggregate {
  protected readonly parts: AggregateParts
  /** The storage that was followed; another one in its place says nothing of what was there before. */
  protected arg: Column | undefined
  protected where: Column | undefined
  /** Of the keys of `order by`. */
  protected keys: readonly (Column | undefined)[] = []
  #isBuilt = false

  constructor(parts: AggregateParts) {
    this.parts = parts
  }

  /** Bytes of what is kept. */
  abstract get byteLength(): number

  /** The result of a group that has rows. */
  abstract resultOf(group: number): Cell

  /** A row of a group counts, or counts no longer. */
  protected abstract change(group: number, contribution: Contribution, by: 1 | -1): void

  /** Takes all rows in anew. */
  protected abstract takeAll(): void

  /** Begins a group anew. */
  protected abstract clearGroup(group: number): void

  /** Follows a pass. Gives the groups touched, or null when all were computed anew. */
  follow(pass: PropagationPass, inFull: boolean): Set<number> | null {
    const { store, groups, args, where, keys } = this.parts
    const { everyRow, inserted, removed } = pass.rowsOf(store)
    const isKnown = this.storage().every((column) => column?.beforeImages().isKnown !== false)
    this.passOver(pass)
    if (inFull || everyRow || !this.#isSame() || !isKnown) {
      this.rebuild()
      return null
    }
    const moves = new Map(groups?.movesIn(pass).map((move) => [move.slot, move.from]))
    const fresh = new Set(slotsOf(inserted))
    const slots = new Set([...removed, ...fresh, ...moves.keys()])
    for (const id of [...args.slice(0, 1), ...(where === null ? [] : [where]), ...keys])
      for (const slot of slotsOf(pass.changedIn(id))) slots.add(slot)
    const dirty = new Set<number>()
    const change = (group: number, contribution: Contribution, by: 1 | -1): void => {
      if (group < 0) return
      dirty.add(group)
      this.change(group, contribution, by)
    }
    const groupOf = (slot: number): number => (groups === null ? 0 : groups.groupOf(slot))
    // All that goes has gone before anything comes, so that what comes is held only to rows that are there.
    for (const slot of slots)
      if (removed.has(slot) || !fresh.has(slot)) change(moves.get(slot) ?? groupOf(slot), this.contribution(slot, true), -1)
    for (const slot of slots) if (store.rows.isLive(slot)) change(groupOf(slot), this.contribution(slot, false), 1)
    return dirty
  }

  /** Lets a pass go by whose groups are computed anew later. */
  passOver(pass: PropagationPass): void {
    for (const column of this.storage()) if (column !== undefined) pass.clearAfterwards(column)
  }

  /** Computes some groups anew; false when all were, since the columns are others now. */
  recompute(groups: Iterable<number>): boolean {
    const isSame = this.#isSame()
    if (!isSame || this.parts.groups === null) {
      this.rebuild()
      return isSame
    }
    for (const group of groups) {
      this.clearGroup(group)
      for (const slot of this.parts.groups.members.of(group)) this.change(group, this.contribution(slot, false), 1)
    }
    return true
  }

  /** Computes all groups anew. */
  rebuild(): void {
    ;[this.arg, this.where, ...this.keys] = this.storage()
    // From here on it matters what cells held before.
    for (const column of this.storage()) column?.beforeImages()
    this.takeAll()
    this.#isBuilt = true
  }

  #isSame(): boolean {
    const followed = [this.arg, this.where, ...this.keys]
    return this.#isBuilt && this.storage().every((column, index) => column === followed[index])
  }

  protected storage(): readonly (Column | undefined)[] {
    const { store, args, where, keys } = this.parts
    return [args[0] ?? null, where, ...keys].map((id) => (id === null ? undefined : store.column(id)))
  }

  protected contribution(slot: number, isBefore: boolean): Contribution {
    const { args, where } = this.parts
    const of = this.where
    const whereStatus = where === null ? Status.value : statusIn(of, slot, isBefore)
    const holds = where === null || (whereStatus === Status.value && valueIn(of, slot, isBefore) === 1)
    const keyStatus = this.keys.length === 0 ? Status.value : this.#keyStatus(slot, isBefore)
    if (!holds || args.length === 0) return { slot, keyStatus, whereStatus, holds, status: Status.value, value: 0 }
    const status = statusIn(this.arg, slot, isBefore)
    return {
      slot,
      keyStatus,
      whereStatus,
      holds,
      status,
      value: status === Status.value ? (valueIn(this.arg, slot, isBefore) ?? 0) : 0,
    }
  }

  /** The error named first among the keys of a row, if there is one. */
  #keyStatus(slot: number, isBefore: boolean): number {
    const faults = this.keys.map((key) => statusIn(key, slot, isBefore)).filter(isFaultStatus)
    return faults.length === 0 ? Status.value : Math.min(...faults)
  }
}

function statusIn(column: Column | undefined, slot: number, isBefore: boolean): number {
  const former = isBefore ? column?.beforeImages().statusOf(slot) : undefined
  return former ?? column?.statusAt(slot) ?? Status.blank
}

function valueIn(column: Column | undefined, slot: number, isBefore: boolean): number | string | undefined {
  const former = isBefore ? column?.beforeImages() : undefined
  if (former?.statusOf(slot) !== undefined) return former.valueOf(slot)
  return column?.valueAt(slot)
}
