/** Slots of new rows in the order in which they came. A single list, as large calls bring, stays the list that it is. */
export class InsertedSlots {
  #slots: readonly number[] | Set<number> = []

  add(slots: readonly number[]): void {
    if (!(this.#slots instanceof Set) && this.#slots.length === 0) this.#slots = slots
    else for (const slot of slots) this.#asSet().add(slot)
  }

  /** Takes rows out that are gone again. */
  delete(slots: readonly number[]): void {
    for (const slot of slots) this.#asSet().delete(slot)
  }

  #asSet(): Set<number> {
    if (!(this.#slots instanceof Set)) this.#slots = new Set(this.#slots)
    return this.#slots
  }

  all(): readonly number[] {
    return this.#slots instanceof Set ? [...this.#slots] : this.#slots
  }
}
