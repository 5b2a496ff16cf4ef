import { firstNumberFrom, isFaultStatus, Status } from '../../../values/index.js'
import type { EngineNode, IndexMemory, NodeId, PropagationPass } from '../../propagation/index.js'
import type { TableStore } from '../../storage/index.js'
import { slotsOf } from '../../storage/index.js'
import type { RangeTest } from './range-index.js'

/** Readers of a bucket, as a power of two. */
const BUCKET_SHIFT = 5
/** Readers whose bounds have changed, up to which they are looked at one by one; more, and all are put in order anew. */
const MOST_LOOSE = 4096

/** Readers in the order of their lower bound, as they were when they were put in order. */
interface Sorted {
  readonly lows: Float64Array
  readonly slots: Int32Array
  /** The highest upper bound by halves of halves: node 1 is all, node n has 2n and 2n + 1 below it; the last are buckets. */
  readonly highest: Float64Array
  readonly buckets: number
  /** Readers with an error in a bound, which see every row, and those with a blank one, which see none by their range. */
  readonly failed: readonly number[]
  readonly blank: readonly number[]
}

/**
 * Readers of a range by their bounds, so that those whose range holds a key are found without a look at all of them (interval
 * tree over sorted lower bounds; Cormen et al., Introduction to Algorithms, 14.3). It is made when it is first asked for; a
 * reader whose bounds change is kept aside until all are put in order again. What it names may be too much, never too little:
 * the one who asks looks at the bounds as they are.
 */
export class IntervalTree implements EngineNode {
  readonly id: NodeId
  readonly sources: readonly NodeId[]
  readonly isDeferrable = false
  readonly #store: TableStore
  readonly #tests: readonly RangeTest[]
  #sorted: Sorted | null = null
  readonly #loose: Set<number> = new Set()
  #isStale = false

  constructor(id: NodeId, store: TableStore, tests: readonly RangeTest[]) {
    this.id = id
    this.#store = store
    this.#tests = tests
    this.sources = [...this.#columns, store.rowsNode]
  }

  get #columns(): NodeId[] {
    return this.#tests.map(({ reader }) => reader)
  }

  memory(): IndexMemory {
    const { lows, slots, highest } = this.#sorted ?? NOTHING
    const bytes = lows.byteLength + slots.byteLength + highest.byteLength
    return { kind: 'sorted keys', store: this.#store, columns: this.#columns, bytes }
  }

  get isStale(): boolean {
    return this.#isStale
  }

  update(pass: PropagationPass): void {
    const { everyRow, inserted } = pass.rowsOf(this.#store)
    if (this.#sorted === null) return
    if (pass.fresh.has(this.id) || everyRow) return this.#forget()
    for (const slot of slotsOf(inserted)) this.#loose.add(slot)
    for (const column of this.#columns) for (const slot of slotsOf(pass.changedIn(column))) this.#loose.add(slot)
    if (this.#loose.size > MOST_LOOSE) this.#forget()
  }

  postpone(): void {
    this.#isStale = true
    this.#forget()
  }

  flush(): void {
    this.#isStale = false
  }

  /** All bounds are others, or may be. */
  #forget(): void {
    this.#sorted = null
    this.#loose.clear()
  }

  /**
   * The rows whose range may hold one of some keys, those with an error in a bound too; each at least once.
   *
   * @param withBlanks - whether those with a blank bound are asked for as well
   */
  *holding(keys: readonly unknown[], withBlanks: boolean): Generator<number> {
    const isNumeric = this.#tests.every(({ reader }) => this.#store.column(reader)?.type !== 'text')
    // Texts are not put in order, nor bounds of which some are yet to be computed: then all rows may be meant.
    if (!isNumeric || this.#isStale) return yield* this.#store.rows.inOrder()
    if (this.#sorted === null) {
      this.#sorted = this.#sort()
      this.#loose.clear()
    }
    yield* this.#sorted.failed
    if (withBlanks) yield* this.#sorted.blank
    yield* this.#loose
    for (const key of keys) yield* this.#stabbed(this.#sorted, Number(key))
  }

  *#stabbed({ lows, slots, highest, buckets }: Sorted, key: number): Generator<number> {
    const end = firstNumberFrom(lows, key, true)
    const open = [1]
    for (let node = open.pop(); node !== undefined; node = open.pop()) {
      if ((highest[node] as number) < key) continue
      if (node < buckets) {
        open.push(2 * node + 1, 2 * node)
        continue
      }
      const first = (node - buckets) << BUCKET_SHIFT
      const last = Math.min(end, first + (1 << BUCKET_SHIFT))
      for (let place = first; place < last; place++) yield slots[place] as number
      // Buckets come in order, and none behind this one begins low enough.
      if (last === end) return
    }
  }

  #sort(): Sorted {
    const [failed, blank]: [number[], number[]] = [[], []]
    const { rows } = this.#store
    const [low, high, of] = [new Float64Array(rows.rowCount), new Float64Array(rows.rowCount), new Int32Array(rows.rowCount)]
    let count = 0
    const columns = this.#tests.map(({ operator, reader }) => ({
      isLow: operator === 'greater' || operator === 'greater-equal',
      column: this.#store.column(reader),
    }))
    for (let slot = 0; slot < rows.slotCount; slot++) {
      if (!rows.isLive(slot)) continue
      let [from, to] = [Number.NEGATIVE_INFINITY, Number.POSITIVE_INFINITY]
      let [isBlank, isFailed] = [false, false]
      for (const { isLow, column } of columns) {
        const status = column?.statusAt(slot) ?? Status.blank
        if (status === Status.blank) isBlank = true
        else if (isFaultStatus(status)) isFailed = true
        else if (isLow) from = Math.max(from, column?.valueAt(slot) as number)
        else to = Math.min(to, column?.valueAt(slot) as number)
      }
      if (isFailed) failed.push(slot)
      else if (isBlank) blank.push(slot)
      else if (from <= to) {
        low[count] = from
        high[count] = to
        of[count++] = slot
      }
    }
    const lows = low.slice(0, count).sort()
    const places = placesIn(lows, low.subarray(0, count))
    const slots = new Int32Array(count)
    const buckets = 2 ** Math.ceil(Math.log2(Math.max(1, count / (1 << BUCKET_SHIFT))))
    const highest = new Float64Array(2 * buckets).fill(Number.NEGATIVE_INFINITY)
    for (let index = 0; index < count; index++) {
      const place = places[index] as number
      slots[place] = of[index] as number
      const bucket = buckets + (place >> BUCKET_SHIFT)
      highest[bucket] = Math.max(highest[bucket] as number, high[index] as number)
    }
    for (let node = buckets - 1; node > 0; node--)
      highest[node] = Math.max(highest[2 * node] as number, highest[2 * node + 1] as number)
    return { lows, slots, highest, buckets, failed, blank }
  }
}

const NOTHING = { lows: new Float64Array(0), slots: new Int32Array(0), highest: new Float64Array(0) }

/** The place of each of some numbers among them all sorted; equal ones one behind the other. */
function placesIn(sorted: Float64Array, numbers: Float64Array): Uint32Array {
  const taken = new Uint32Array(sorted.length)
  const places = new Uint32Array(numbers.length)
  for (let index = 0; index < numbers.length; index++) {
    const first = firstNumberFrom(sorted, numbers[index] as number)
    places[index] = first + (taken[first] as number)
    taken[first] = (taken[first] as number) + 1
  }
  return places
}
