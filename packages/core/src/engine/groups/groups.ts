import type { EngineNode, IndexMemory, PropagationPass } from '../propagation/index.js'
import type { TableStore } from '../storage/index.js'
import { isFaultyKey, NO_ROW } from './group-number.js'
import { BYTES_AN_ENTRY } from './key-dictionary.js'
import { grown, Members } from './members.js'

/** A row that changed its group in a pass. */
export interface Move {
  readonly slot: number
  readonly from: number
  readonly to: number
}

/** Puts the rows of a table into groups and keeps them there. What decides the group of a row is left to the kinds of groups. */
export abstract class Groups implements EngineNode {
  abstract readonly id: EngineNode['id']
  abstract readonly sources: EngineNode['sources']
  readonly store: TableStore
  readonly members: Members = new Members()
  #groups = new Int32Array(64).fill(NO_ROW)
  #moves: readonly Move[] = []
  #pass: PropagationPass | null = null
  #isRebuilt = false
  readonly isDeferrable = false
  #isStale = false
  /** Rows without a group: those with a blank key or an error in it. */
  readonly odd: Set<number> = new Set()
  /** How many of them have an error. */
  faults = 0
  /** Another number whenever a row has changed its group. */
  version = 0

  constructor(store: TableStore) {
    this.store = store
  }

  /** The group of a row; where it has none, what stands in place of one (group-number.ts). */
  groupOf(slot: number): number {
    return this.#groups[slot] ?? NO_ROW
  }

  /** The same of all rows that the table has had, by slot; to be read before any of them moves. */
  get bySlot(): Int32Array {
    return this.#groups
  }

  /** True when all rows were put into their groups anew in this pass. */
  rebuiltIn(pass: PropagationPass): boolean {
    return this.#pass === pass && this.#isRebuilt
  }

  /** The rows that changed their group in this pass, if it was not rebuilt. */
  movesIn(pass: PropagationPass): readonly Move[] {
    return this.#pass === pass ? this.#moves : []
  }

  /** What stands in place of a group where the key is an error, each once. */
  faultyGroups(): Set<number> {
    return new Set([...this.odd].map((slot) => this.groupOf(slot)).filter(isFaultyKey))
  }

  /** The groups that lost or gained rows in this pass. */
  groupsMovedIn(pass: PropagationPass): Set<number> {
    const groups = new Set<number>()
    for (const { from, to } of this.movesIn(pass)) {
      if (from >= 0) groups.add(from)
      if (to >= 0) groups.add(to)
    }
    return groups
  }

  memory(): IndexMemory {
    const bytes = this.#groups.byteLength + this.members.byteLength + this.odd.size * BYTES_AN_ENTRY + this.keyBytes
    return { kind: 'groups', store: this.store, columns: this.columns, bytes }
  }

  /** The columns that decide the group of a row. */
  abstract get columns(): readonly EngineNode['id'][]

  /** Bytes of the keys themselves, as far as they are its own. */
  protected get keyBytes(): number {
    return 0
  }

  get isStale(): boolean {
    return this.#isStale
  }

  /** Stale keys say nothing: all rows are put into their groups anew once they are known. */
  postpone(pass: PropagationPass): void {
    this.#pass = pass
    this.#isRebuilt = true
    this.#moves = []
    this.#isStale = true
  }

  flush(): void {
    if (this.#isStale) this.#rebuild()
    this.#isStale = false
  }

  update(pass: PropagationPass): void {
    const { rows } = this.store
    const touched = pass.rowsOf(this.store)
    const inFull = pass.fresh.has(this.id) || touched.everyRow
    this.#pass = pass
    this.#isRebuilt = inFull
    this.#moves = []
    if (inFull) return this.#rebuild()
    const moves: Move[] = []
    const move = (slot: number): void => {
      const from = this.groupOf(slot)
      const to = rows.isLive(slot) ? this.find(slot) : NO_ROW
      // Found again or not, a key that was entered anew for this row is used once.
      if (from >= 0) this.leave(from)
      // Another row in the place of one that is gone has moved there, even from the same group.
      if (from === to && !touched.removed.has(slot)) return
      this.#put(slot, from, to)
      moves.push({ slot, from, to })
    }
    const slots = new Set(this.touched(pass))
    for (const slot of touched.removed) slots.add(slot)
    for (const slot of slots) move(slot)
    this.#moves = moves
    if (moves.length > 0) this.version++
  }

  /** Puts all rows into their groups anew. */
  #rebuild(): void {
    const { rows } = this.store
    this.version++
    const former = this.#groups
    for (let slot = 0; slot < former.length; slot++) if ((former[slot] as number) >= 0) this.leave(former[slot] as number)
    this.members.clear()
    this.odd.clear()
    this.faults = 0
    this.#groups = new Int32Array(Math.max(64, rows.slotCount)).fill(NO_ROW)
    this.members.reserve(rows.slotCount)
    const find = this.finder()
    for (let slot = 0; slot < rows.slotCount; slot++) {
      if (!rows.isLive(slot)) continue
      const group = find(slot)
      this.#groups[slot] = group
      if (group >= 0) this.members.add(group, slot)
      else this.#setOdd(slot, group, true)
    }
  }

  /** The group that a row belongs to now; a kind that counts uses counts this one. */
  protected abstract find(slot: number): number

  /** What finds the groups of all rows, one after the other; a kind may remember what it has found on the way. */
  protected finder(): (slot: number) => number {
    return (slot) => this.find(slot)
  }

  /** A row does not use a group any more. */
  protected abstract leave(group: number): void

  /** Rows whose group may differ after this pass, besides those that are gone. */
  protected abstract touched(pass: PropagationPass): Iterable<number>

  #put(slot: number, from: number, to: number): void {
    if (from >= 0) this.members.remove(from, slot)
    if (from < 0) this.#setOdd(slot, from, false)
    this.#groups = grown(this.#groups, slot, NO_ROW)
    this.#groups[slot] = to
    if (to >= 0) this.members.add(to, slot)
    else this.#setOdd(slot, to, true)
  }

  #setOdd(slot: number, group: number, isOdd: boolean): void {
    if (group === NO_ROW) return
    if (isOdd) this.odd.add(slot)
    else this.odd.delete(slot)
    if (isFaultyKey(group)) this.faults += isOdd ? 1 : -1
  }
}
