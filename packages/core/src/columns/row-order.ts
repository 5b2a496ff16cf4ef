import { firstWhere } from '../values/index.js'

/** Slots of a chunk before it is split. */
const MOST_IN_CHUNK = 1024

/** A run of slots that follow each other in the order. */
interface Chunk {
  readonly slots: Int32Array
  count: number
  /** Its place among the chunks. */
  at: number
}

/**
 * An order of slots in chunks with counts: a row number is found by its chunk and the counts of the chunks before it, and a
 * slot comes in or goes with a move inside one chunk, so neither costs in proportion to the table.
 */
export class RowOrder {
  #chunks: Chunk[] = []
  /** Chunk of each slot, by number. */
  #chunkOf: Int32Array
  readonly #byNumber: Chunk[] = []
  readonly #numberOf: Map<Chunk, number> = new Map()
  /** Rows before each chunk; null when counts have changed since. */
  #before: Int32Array | null = null

  /** An order in which slot i is row i, for so many slots. */
  constructor(count: number) {
    this.#chunkOf = new Int32Array(Math.max(64, count)).fill(-1)
    for (let first = 0; first < count; first += MOST_IN_CHUNK / 2) {
      const size = Math.min(MOST_IN_CHUNK / 2, count - first)
      const chunk = this.#newChunk(this.#chunks.length)
      for (let index = 0; index < size; index++) chunk.slots[index] = first + index
      chunk.count = size
      this.#chunkOf.fill(this.#numberOf.get(chunk) as number, first, first + size)
    }
    if (this.#chunks.length === 0) this.#newChunk(0)
  }

  /** An order of the slots given, of so many that were ever given out. */
  static of(slots: Int32Array, slotCount: number): RowOrder {
    const order = new RowOrder(0)
    order.#chunkOf = new Int32Array(Math.max(64, slotCount)).fill(-1)
    for (let first = 0; first < slots.length; first += MOST_IN_CHUNK / 2) {
      const chunk = first === 0 ? (order.#chunks[0] as Chunk) : order.#newChunk(order.#chunks.length)
      const part = slots.subarray(first, first + MOST_IN_CHUNK / 2)
      chunk.slots.set(part)
      chunk.count = part.length
      for (const slot of part) order.#chunkOf[slot] = order.#numberOf.get(chunk) as number
    }
    return order
  }

  #newChunk(at: number): Chunk {
    const chunk: Chunk = { slots: new Int32Array(MOST_IN_CHUNK), count: 0, at }
    this.#numberOf.set(chunk, this.#byNumber.push(chunk) - 1)
    this.#chunks.splice(at, 0, chunk)
    for (let index = at; index < this.#chunks.length; index++) (this.#chunks[index] as Chunk).at = index
    this.#before = null
    return chunk
  }

  #rowsBefore(): Int32Array {
    if (this.#before === null) {
      this.#before = new Int32Array(this.#chunks.length)
      let rows = 0
      for (const [index, chunk] of this.#chunks.entries()) {
        this.#before[index] = rows
        rows += chunk.count
      }
    }
    return this.#before
  }

  /** The place of a slot, from 0. */
  placeOf(slot: number): number {
    const chunk = this.#byNumber[this.#chunkOf[slot] as number] as Chunk
    return (this.#rowsBefore()[chunk.at] as number) + chunk.slots.subarray(0, chunk.count).indexOf(slot)
  }

  /** The slot at a place, from 0; undefined beyond the end. */
  slotAt(place: number): number | undefined {
    const chunk = this.#chunkAt(place)
    const at = place - (this.#rowsBefore()[chunk.at] as number)
    return at < chunk.count ? chunk.slots[at] : undefined
  }

  /** The last chunk that begins at a place or before it. */
  #chunkAt(place: number): Chunk {
    const before = this.#rowsBefore()
    return this.#chunks[firstWhere(1, before.length, (at) => (before[at] as number) > place) - 1] as Chunk
  }

  /** Puts a slot in, to stand at a place afterwards. */
  insert(slot: number, place: number): void {
    let chunk = this.#chunkAt(place)
    if (chunk.count === MOST_IN_CHUNK) {
      this.#split(chunk)
      chunk = this.#chunkAt(place)
    }
    const at = place - (this.#rowsBefore()[chunk.at] as number)
    chunk.slots.copyWithin(at + 1, at, chunk.count)
    chunk.slots[at] = slot
    chunk.count++
    this.#own(slot, chunk)
    this.#shift(chunk, 1)
  }

  #split(chunk: Chunk): void {
    const half = MOST_IN_CHUNK / 2
    const next = this.#newChunk(chunk.at + 1)
    next.slots.set(chunk.slots.subarray(half))
    next.count = chunk.count - half
    chunk.count = half
    for (let index = 0; index < next.count; index++) this.#own(next.slots[index] as number, next)
  }

  #own(slot: number, chunk: Chunk): void {
    if (slot >= this.#chunkOf.length) {
      const wider = new Int32Array(Math.max(slot + 1, this.#chunkOf.length * 2)).fill(-1, this.#chunkOf.length)
      wider.set(this.#chunkOf)
      this.#chunkOf = wider
    }
    this.#chunkOf[slot] = this.#numberOf.get(chunk) as number
  }

  /** Takes a slot out. */
  remove(slot: number): void {
    const chunk = this.#byNumber[this.#chunkOf[slot] as number] as Chunk
    const at = chunk.slots.subarray(0, chunk.count).indexOf(slot)
    chunk.slots.copyWithin(at, at + 1, chunk.count)
    chunk.count--
    this.#chunkOf[slot] = -1
    this.#shift(chunk, -1)
  }

  /** Keeps the counts before the chunks behind one. */
  #shift(chunk: Chunk, by: 1 | -1): void {
    const before = this.#before
    if (before === null) return
    for (let index = chunk.at + 1; index < before.length; index++) before[index] = (before[index] as number) + by
  }

  /** All slots in order. */
  toArray(count: number): Int32Array {
    const order = new Int32Array(count)
    let at = 0
    for (const chunk of this.#chunks) {
      order.set(chunk.slots.subarray(0, chunk.count), at)
      at += chunk.count
    }
    return order
  }
}
