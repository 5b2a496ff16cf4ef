import type { Cell } from '../../../columns/index.js'
import { firstWhere } from '../../../values/index.js'
import { compareValues } from '../../storage/index.js'

/** Comparisons of a key of the rows read with something of the row they are read for. */
export type RangeOperator = 'less' | 'less-equal' | 'greater' | 'greater-equal'

/** One end of a range, with its value; never blank or an error. */
export interface Bound {
  readonly operator: RangeOperator
  readonly bound: Cell
}

/** True when a key meets a test. */
export function meets(key: Cell, operator: RangeOperator, bound: Cell): boolean {
  const order = compareValues(key, bound)
  if (operator === 'less') return order < 0
  if (operator === 'less-equal') return order <= 0
  return operator === 'greater' ? order > 0 : order >= 0
}

/** Rows in the order of a key, those of equal keys by slot; a row comes and goes by bisection. */
export class SortedRows {
  readonly #keys: Cell[]
  #slots: Int32Array<ArrayBuffer>
  #count: number
  /** Another number whenever rows have come or gone, so that places are others. */
  version = 0

  /** @param rows - in any order */
  constructor(rows: { readonly slot: number; readonly key: Cell }[]) {
    rows.sort((a, b) => compareValues(a.key, b.key) || a.slot - b.slot)
    this.#keys = rows.map((row) => row.key)
    this.#slots = Int32Array.from(rows, (row) => row.slot)
    this.#count = rows.length
  }

  /** How many rows there are. */
  get count(): number {
    return this.#count
  }

  /** The slots of the rows from one place to another. */
  slots(from: number, to: number): Int32Array {
    return this.#slots.subarray(from, to)
  }

  /** The places whose keys meet all bounds: the first, and the one behind the last. */
  within(bounds: readonly Bound[]): { readonly from: number; readonly to: number } {
    let [from, to] = [0, this.#count]
    for (const { operator, bound } of bounds) {
      if (operator === 'greater' || operator === 'greater-equal')
        from = Math.max(from, this.#firstAt(bound, operator === 'greater'))
      else to = Math.min(to, this.#firstAt(bound, operator === 'less-equal'))
    }
    return { from, to: Math.max(from, to) }
  }

  /** The place of a row with a key, or where it would be. */
  placeOf(slot: number, key: Cell): number {
    return firstWhere(
      0,
      this.#count,
      (place) => (compareValues(this.#keys[place] as Cell, key) || (this.#slots[place] as number) - slot) >= 0,
    )
  }

  /** Takes a row out that had a key; one that is not there is left out. */
  remove(slot: number, key: Cell): void {
    const place = this.placeOf(slot, key)
    if (place === this.#count || this.#slots[place] !== slot) return
    this.#keys.splice(place, 1)
    this.#slots.copyWithin(place, place + 1, this.#count)
    this.#count--
    this.version++
  }

  /** Puts a row in that is not there yet. */
  insert(slot: number, key: Cell): void {
    const place = this.placeOf(slot, key)
    if (this.#count === this.#slots.length) {
      const wider = new Int32Array(Math.max(16, this.#count * 2))
      wider.set(this.#slots)
      this.#slots = wider
    }
    this.#keys.splice(place, 0, key)
    this.#slots.copyWithin(place + 1, place, this.#count)
    this.#slots[place] = slot
    this.#count++
    this.version++
  }

  /** The first place whose key is not below a bound; with `isAbove` the first whose key is above it. */
  #firstAt(bound: Cell, isAbove: boolean): number {
    const keys = this.#keys
    return firstWhere(0, this.#count, (place) => {
      const order = compareValues(keys[place] as Cell, bound)
      return isAbove ? order > 0 : order >= 0
    })
  }
}
