import type { SortedView } from '../../../functions/index.js'
import { compareText, firstWhere, type Scalar } from '../../../values/index.js'

type Value = number | string

/** Values of a chunk before it is split. */
const MOST_IN_CHUNK = 512

/**
 * Values in ascending order, each as often as it was added: a list of sorted chunks, so that a value comes in or goes with a
 * move inside one chunk, and the value at a place is found by the counts of the chunks before it.
 */
export class SortedMultiset implements SortedView {
  #chunks: Value[][] = []
  #size = 0
  #distinct = 0
  /** How often each value stands in the list; kept from the first time the commonest is asked for. */
  #counts: Map<Value, number> | null = null
  #commonest: Value | null = null
  readonly #isBoolean: boolean

  /** @param isBoolean - whether 0 and 1 stand for false and true */
  constructor(isBoolean = false) {
    this.#isBoolean = isBoolean
  }

  get size(): number {
    return this.#size
  }

  get distinct(): number {
    return this.#distinct
  }

  /** Takes many values at once into an empty list. */
  fill(values: Value[]): void {
    if (values.every((value) => typeof value === 'number')) {
      const numbers = Float64Array.from(values as number[]).sort()
      for (const [index, value] of numbers.entries()) values[index] = value
    } else values.sort(compare)
    for (let at = 0; at < values.length; at += MOST_IN_CHUNK / 2) this.#chunks.push(values.slice(at, at + MOST_IN_CHUNK / 2))
    this.#size = values.length
    this.#distinct = values.reduce<number>((count, value, at) => count + (at > 0 && value === values[at - 1] ? 0 : 1), 0)
  }

  /** Puts a value in. */
  add(value: Value): void {
    const index = this.#chunkFor(value)
    const chunk = this.#chunks[index]
    if (chunk === undefined) this.#chunks.push([value])
    else {
      const at = firstNotBelow(chunk, value)
      if (chunk[at] !== value) this.#distinct++
      chunk.splice(at, 0, value)
      if (chunk.length > MOST_IN_CHUNK) this.#chunks.splice(index + 1, 0, chunk.splice(MOST_IN_CHUNK / 2))
    }
    if (chunk === undefined) this.#distinct++
    this.#size++
    if (this.#counts !== null) this.#countOne(this.#counts, value, 1)
  }

  /** Takes a value out, which must be there. */
  remove(value: Value): void {
    const index = this.#chunkFor(value)
    const chunk = this.#chunks[index] as Value[]
    const at = firstNotBelow(chunk, value)
    if (chunk[at] !== value) throw new ReferenceError(`${value} is not in the list`)
    chunk.splice(at, 1)
    // Equal values may go on in the next chunk, and the last of them is where this one was found.
    if (chunk[at] !== value && chunk[at - 1] !== value && this.#chunks[index + 1]?.[0] !== value) this.#distinct--
    if (chunk.length === 0) this.#chunks.splice(index, 1)
    this.#size--
    if (this.#counts !== null) this.#countOne(this.#counts, value, -1)
  }

  at(place: number): Scalar {
    let left = place
    for (const chunk of this.#chunks) {
      if (left < chunk.length) return this.#shown(chunk[left] as Value)
      left -= chunk.length
    }
    throw new RangeError(`there is no place ${place}`)
  }

  commonest(): Scalar | null {
    if (this.#counts === null) {
      this.#counts = new Map()
      for (const chunk of this.#chunks) for (const value of chunk) this.#counts.set(value, (this.#counts.get(value) ?? 0) + 1)
    }
    if (this.#commonest === null) {
      let most = 0
      for (const [value, count] of this.#counts) {
        if (count < most || (count === most && this.#commonest !== null && compare(value, this.#commonest) > 0)) continue
        most = count
        this.#commonest = value
      }
    }
    return this.#commonest === null ? null : this.#shown(this.#commonest)
  }

  #shown(value: Value): Scalar {
    return this.#isBoolean ? value === 1 : value
  }

  #countOne(counts: Map<Value, number>, value: Value, by: 1 | -1): void {
    const count = (counts.get(value) ?? 0) + by
    if (count === 0) counts.delete(value)
    else counts.set(value, count)
    const best = this.#commonest
    if (best === null) return
    if (by < 0) {
      // Another one may be the commonest now; it is looked for when someone asks.
      if (value === best) this.#commonest = null
      return
    }
    const most = counts.get(best) ?? 0
    if (count > most || (count === most && compare(value, best) < 0)) this.#commonest = value
  }

  /** The first chunk whose last value is not below a value; the last one when all are below. */
  #chunkFor(value: Value): number {
    const last = Math.max(0, this.#chunks.length - 1)
    return firstWhere(0, last, (place) => compare((this.#chunks[place] as Value[]).at(-1) as Value, value) >= 0)
  }
}

function compare(left: Value, right: Value): number {
  return typeof left === 'string' ? compareText(left, right as string) : left - (right as number)
}

function firstNotBelow(chunk: readonly Value[], value: Value): number {
  return firstWhere(0, chunk.length, (place) => compare(chunk[place] as Value, value) >= 0)
}
