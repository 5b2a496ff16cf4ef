import { RowOrder } from './row-order.js'
import { IdHistory, type SlotIds } from './slot-ids.js'
import { BLOCK_SHIFT } from './vectors.js'

/** The rows of a table as they are written to a file; lists are empty where rows are numbered as they came. */
export interface RowsSnapshot {
  readonly slotCount: number
  readonly nextId: number
  /** Slots without a row. */
  readonly free: readonly number[]
  /** Slots whose id is not the next number, with their ids. */
  readonly others: readonly (readonly [slot: number, id: number])[]
  /** Slots in row order; null while they stand as they came. */
  readonly order: Int32Array | null
}

/** The rows of a table: identity (id), place in storage (slot) and place in the order (row number). */
export class RowSet {
  /** Slots in row order; null while slot i is row i. */
  #order: RowOrder | null = null
  /** Ids of the slots whose id is not slot + 1, and the way back. Freed slots keep their last id. */
  readonly #otherIds: Map<number, number> = new Map()
  readonly #slotsOfOthers: Map<number, number> = new Map()
  readonly #history: IdHistory = new IdHistory((slot) => this.idOf(slot))
  readonly #free: number[] = []
  readonly #freed: Set<number> = new Set()
  /** How many slots of a block are without a row; blocks whose every slot holds one are not in it. */
  readonly #freedInBlock: Map<number, number> = new Map()
  #slotCount = 0
  #nextId = 1

  /** The rows as they are written to a file. */
  snapshot(): RowsSnapshot {
    return {
      slotCount: this.#slotCount,
      nextId: this.#nextId,
      free: this.#free,
      // What a slot without a row was last called may be the id of a row elsewhere by now.
      others: [...this.#otherIds].filter(([slot]) => this.isLive(slot)),
      order: this.#order?.toArray(this.rowCount) ?? null,
    }
  }

  /** Takes rows over from a file; there must be none. */
  restore({ slotCount, nextId, free, others, order }: RowsSnapshot): void {
    this.#slotCount = slotCount
    for (const slot of free) this.#setFree(slot)
    for (const [slot, id] of others) this.#setId(slot, id)
    this.#nextId = nextId
    if (order !== null) this.#order = RowOrder.of(order, slotCount)
  }

  /** How many rows there are. */
  get rowCount(): number {
    return this.#slotCount - this.#free.length
  }

  /** How many slots were ever given out: blocks reach this far. */
  get slotCount(): number {
    return this.#slotCount
  }

  /** The id that the next row gets; ids are never given twice. */
  get nextId(): number {
    return this.#nextId
  }

  /** True when a slot holds a row. */
  isLive(slot: number): boolean {
    return slot < this.#slotCount && (this.#free.length === 0 || !this.#freed.has(slot))
  }

  /** True when every slot given out holds a row, so that blocks can be run whole. */
  get isDense(): boolean {
    return this.#free.length === 0
  }

  /** True when every slot given out of a block holds a row. */
  isDenseIn(block: number): boolean {
    return !this.#freedInBlock.has(block)
  }

  /** The slot of the row with this id, or undefined. */
  slotOf(id: number): number | undefined {
    const other = this.#slotsOfOthers.get(id)
    if (other !== undefined) return this.isLive(other) ? other : undefined
    const slot = id - 1
    return Number.isInteger(id) && slot >= 0 && this.isLive(slot) && !this.#otherIds.has(slot) ? slot : undefined
  }

  /** The id of the row in a slot. */
  idOf(slot: number): number {
    return this.#otherIds.size === 0 ? slot + 1 : (this.#otherIds.get(slot) ?? slot + 1)
  }

  /** The ids of the rows in some slots. */
  idsOf(slots: Int32Array): number[] {
    const ids = new Array<number>(slots.length)
    for (let at = 0; at < slots.length; at++) ids[at] = this.idOf(slots[at] as number)
    return ids
  }

  /** The ids that slots have now, for someone who asks when some may have been given to other rows. */
  idsNow(): SlotIds {
    return this.#history.now()
  }

  /** The slot at a place of the order, from 0. */
  slotAt(place: number): number | undefined {
    if (this.#order !== null) return this.#order.slotAt(place)
    return place >= 0 && place < this.#slotCount ? place : undefined
  }

  /** The place of a slot in the order, from 0. */
  placeOf(slot: number): number {
    return this.#order === null ? slot : this.#order.placeOf(slot)
  }

  /** Slots in row order. */
  inOrder(): Int32Array {
    if (this.#order !== null) return this.#order.toArray(this.rowCount)
    const order = new Int32Array(this.#slotCount)
    for (let slot = 0; slot < order.length; slot++) order[slot] = slot
    return order
  }

  /**
   * Makes rows.
   *
   * @param places - where each row stands afterwards, from 0, ascending; at the end when not given
   * @param ids - ids to give; the next free ones when not given
   * @returns the slots, in the order of the rows given
   */
  insert(count: number, places?: readonly number[], ids?: readonly number[]): number[] {
    const before = this.rowCount
    const isOrdered = this.#order !== null || places !== undefined || this.#free.length > 0
    // An order of its own begins with the rows that are there.
    if (isOrdered) this.#order ??= new RowOrder(this.#slotCount)
    const slots: number[] = []
    for (let index = 0; index < count; index++) {
      const free = this.#takeFree()
      if (free !== undefined) this.#history.replace(free, this.idOf(free))
      const slot = free ?? this.#slotCount++
      slots.push(slot)
      this.#setId(slot, ids?.[index] ?? this.#nextId)
      this.#order?.insert(slot, places?.[index] ?? before + index)
    }
    return slots
  }

  /** Takes the rows of these slots away. */
  remove(slots: readonly number[]): void {
    this.#order ??= new RowOrder(this.#slotCount)
    for (const slot of slots) {
      this.#order.remove(slot)
      this.#setFree(slot)
    }
  }

  #setFree(slot: number): void {
    this.#free.push(slot)
    this.#freed.add(slot)
    const block = slot >> BLOCK_SHIFT
    this.#freedInBlock.set(block, (this.#freedInBlock.get(block) ?? 0) + 1)
  }

  #takeFree(): number | undefined {
    const slot = this.#free.pop()
    if (slot === undefined) return undefined
    this.#freed.delete(slot)
    const block = slot >> BLOCK_SHIFT
    const left = (this.#freedInBlock.get(block) as number) - 1
    if (left === 0) this.#freedInBlock.delete(block)
    else this.#freedInBlock.set(block, left)
    return slot
  }

  /**
   * Puts rows elsewhere in the order.
   *
   * @param to - the slot that they stand before, or where each stands afterwards, from 0, ascending; the end when not given
   */
  move(slots: readonly number[], to?: number | readonly number[]): void {
    this.#order ??= new RowOrder(this.#slotCount)
    for (const slot of slots) this.#order.remove(slot)
    const left = this.rowCount - slots.length
    const first = typeof to === 'number' ? this.#order.placeOf(to) : left
    for (const [index, slot] of slots.entries())
      this.#order.insert(slot, typeof to === 'object' ? (to[index] as number) : first + index)
  }

  /** Returns to an earlier next id, where the ids given since are used by no row. */
  returnIds(next: number): void {
    this.#nextId = next
  }

  #setId(slot: number, id: number): void {
    const former = this.#otherIds.get(slot)
    this.#otherIds.delete(slot)
    // A row that has come back may stand in another slot than before: only what this slot says of its former id goes.
    if (former !== undefined && this.#slotsOfOthers.get(former) === slot) this.#slotsOfOthers.delete(former)
    this.#slotsOfOthers.delete(id)
    if (id !== slot + 1) {
      this.#otherIds.set(slot, id)
      this.#slotsOfOthers.set(id, slot)
    }
    this.#nextId = Math.max(this.#nextId, id + 1)
  }
}
