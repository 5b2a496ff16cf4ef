/** The rows of a table: identity (id), place in storage (slot) and place in the order (row number). */
export class RowSet {
  /** Slots in row order; null while slot i is row i. A middle insert copies it: a counted tree takes its place later. */
  #order: number[] | null = null
  /** Id of each slot; null while slot i has id i + 1. Freed slots keep their last id. */
  #ids: number[] | null = null
  /** Place of each slot, made when asked for and dropped when the order changes. */
  #places: Int32Array | null = null
  #slots: Map<number, number> | null = null
  readonly #free: number[] = []
  readonly #freed: Set<number> = new Set()
  #slotCount = 0
  #nextId = 1

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

  /** The slot of the row with this id, or undefined. */
  slotOf(id: number): number | undefined {
    if (this.#slots !== null) return this.#slots.get(id)
    return Number.isInteger(id) && id >= 1 && id <= this.#slotCount && this.isLive(id - 1) ? id - 1 : undefined
  }

  /** The id of the row in a slot. */
  idOf(slot: number): number {
    return this.#ids === null ? slot + 1 : (this.#ids[slot] as number)
  }

  /** The slot at a place of the order, from 0. */
  slotAt(place: number): number {
    return this.#order === null ? place : (this.#order[place] as number)
  }

  /** The place of a slot in the order, from 0. */
  placeOf(slot: number): number {
    if (this.#order === null) return slot
    if (this.#places === null) {
      this.#places = new Int32Array(this.#slotCount)
      for (const [place, at] of this.#order.entries()) this.#places[at] = place
    }
    return this.#places[slot] as number
  }

  /** Slots in row order. */
  inOrder(): Int32Array {
    if (this.#order !== null) return Int32Array.from(this.#order)
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
    const appended = this.#free.length === 0
    this.#places = null
    const slots: number[] = []
    for (let index = 0; index < count; index++) {
      const freed = this.#free.pop()
      if (freed !== undefined) this.#freed.delete(freed)
      slots.push(freed ?? this.#slotCount++)
    }
    if (ids !== undefined || !appended || this.#ids !== null || this.#nextId !== (slots[0] ?? 0) + 1) {
      const explicit = this.#explicitIds()
      slots.forEach((slot, index) => {
        const id = ids?.[index] ?? this.#nextId
        explicit.ids[slot] = id
        explicit.slots.set(id, slot)
        this.#nextId = Math.max(this.#nextId, id + 1)
      })
    } else this.#nextId += count
    if (places !== undefined) this.#order = mergePlaces(this.#explicitOrder(count), slots, places)
    else if (!appended || this.#order !== null) {
      const order = this.#explicitOrder(count)
      for (const slot of slots) order.push(slot)
    }
    return slots
  }

  /** Takes the rows of these slots away. */
  remove(slots: readonly number[]): void {
    const gone = new Set(slots)
    this.#places = null
    const order = this.#explicitOrder(0)
    const explicit = this.#explicitIds()
    this.#order = order.filter((slot) => !gone.has(slot))
    for (const slot of slots) {
      explicit.slots.delete(this.idOf(slot))
      this.#free.push(slot)
      this.#freed.add(slot)
    }
  }

  #explicitIds(): { ids: number[]; slots: Map<number, number> } {
    if (this.#ids === null || this.#slots === null) {
      const known = Math.min(this.#slotCount, this.#nextId - 1)
      this.#ids = Array.from({ length: known }, (_, slot) => slot + 1)
      this.#slots = new Map(this.#ids.map((id) => [id, id - 1]))
    }
    return { ids: this.#ids, slots: this.#slots }
  }

  /** The order as a list, without the last `fresh` slots, which are not placed yet. */
  #explicitOrder(fresh: number): number[] {
    if (this.#order === null) this.#order = Array.from({ length: this.#slotCount - fresh }, (_, slot) => slot)
    return this.#order
  }
}

function mergePlaces(order: readonly number[], slots: readonly number[], places: readonly number[]): number[] {
  const merged: number[] = []
  let next = 0
  for (const slot of order) {
    while (next < slots.length && places[next] === merged.length) merged.push(slots[next++] as number)
    merged.push(slot)
  }
  while (next < slots.length) merged.push(slots[next++] as number)
  return merged
}
