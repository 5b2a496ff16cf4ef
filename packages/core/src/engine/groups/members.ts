/** Which rows belong to which group: doubly linked lists in typed arrays, so that a row joins and leaves at once. */
export class Members {
  /** By group: the first row and how many there are. */
  #first = new Int32Array(64).fill(-1)
  #sizes = new Int32Array(64)
  #groupCount = 0
  /** By slot. */
  #next = new Int32Array(64)
  #previous = new Int32Array(64)

  /** How many rows a group has. */
  sizeOf(group: number): number {
    return this.#sizes[group] ?? 0
  }

  /** One of the rows of a group; -1 for an empty one. */
  firstOf(group: number): number {
    return this.#first[group] ?? -1
  }

  /** How many groups have rows. */
  get groupCount(): number {
    return this.#groupCount
  }

  /** Bytes of its arrays. */
  get byteLength(): number {
    return [this.#first, this.#sizes, this.#next, this.#previous].reduce((sum, array) => sum + array.byteLength, 0)
  }

  /** Begins anew. */
  clear(): void {
    this.#first.fill(-1)
    this.#sizes.fill(0)
    this.#groupCount = 0
  }

  /** Makes room for so many rows at once. */
  reserve(slots: number): void {
    if (slots <= this.#next.length) return
    this.#next = new Int32Array(slots)
    this.#previous = new Int32Array(slots)
  }

  /** A row joins a group. */
  add(group: number, slot: number): void {
    if (group >= this.#first.length) {
      this.#sizes = grown(this.#sizes, group, 0)
      this.#first = grown(this.#first, group, -1)
    }
    if (slot >= this.#next.length) {
      this.#next = grown(this.#next, slot, -1)
      this.#previous = grown(this.#previous, slot, -1)
    }
    const first = this.#first[group] as number
    if (first < 0) this.#groupCount++
    this.#next[slot] = first
    this.#previous[slot] = -1
    if (first >= 0) this.#previous[first] = slot
    this.#first[group] = slot
    this.#sizes[group] = (this.#sizes[group] as number) + 1
  }

  /** A row leaves its group. */
  remove(group: number, slot: number): void {
    const next = this.#next[slot] as number
    const previous = this.#previous[slot] as number
    if (previous >= 0) this.#next[previous] = next
    else this.#first[group] = next
    if (next >= 0) this.#previous[next] = previous
    this.#sizes[group] = (this.#sizes[group] as number) - 1
    if (this.#sizes[group] === 0) this.#groupCount--
  }

  /** The groups that have rows. */
  *groups(): IterableIterator<number> {
    for (let group = 0; group < this.#sizes.length; group++) if ((this.#sizes[group] as number) > 0) yield group
  }

  /** The rows of a group by slot, as a list of the caller's own. */
  listOf(group: number): Int32Array {
    const rows = new Int32Array(this.sizeOf(group))
    let slot = this.firstOf(group)
    let isSorted = true
    // Who has joined last is the first, and rows mostly join in the order of their slots.
    for (let index = rows.length - 1; index >= 0; index--) {
      rows[index] = slot
      const next = this.#next[slot] as number
      if (next > slot) isSorted = false
      slot = next
    }
    return isSorted ? rows : rows.sort()
  }

  /** The rows of a group, in no order that means anything. */
  *of(group: number): IterableIterator<number> {
    for (let slot = this.firstOf(group); slot >= 0; slot = this.#next[slot] as number) yield slot
  }
}

/** The array with room for an index, filled up. */
export function grown(array: Int32Array<ArrayBuffer>, index: number, filler: number): Int32Array<ArrayBuffer> {
  if (index < array.length) return array
  const wider = new Int32Array(Math.max(index + 1, array.length * 2)).fill(filler, array.length)
  wider.set(array)
  return wider
}
