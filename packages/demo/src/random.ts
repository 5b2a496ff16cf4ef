/** A stream of made-up chance that is the same for the same seed: mulberry32 (Tommy Ettinger, 2017). */
export class SeededRandom {
  #state: number

  constructor(seed: number) {
    this.#state = seed >>> 0
  }

  /** A number from 0 up to, not including, 1. */
  next(): number {
    this.#state = (this.#state + 0x6d2b79f5) >>> 0
    let mixed = this.#state
    mixed = Math.imul(mixed ^ (mixed >>> 15), mixed | 1)
    mixed ^= mixed + Math.imul(mixed ^ (mixed >>> 7), mixed | 61)
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 4_294_967_296
  }

  /** A whole number from `low` to `high`, both included. */
  whole(low: number, high: number): number {
    return low + Math.floor(this.next() * (high - low + 1))
  }

  /** A number from `low` to `high` with so many decimals. */
  decimal(low: number, high: number, decimals: number): number {
    return Number((low + this.next() * (high - low)).toFixed(decimals))
  }

  /** One of a list. */
  pick<Item>(items: readonly Item[]): Item {
    return items[this.whole(0, items.length - 1)] as Item
  }

  /** True so often: 0.1 is one time in ten. */
  chance(share: number): boolean {
    return this.next() < share
  }
}
