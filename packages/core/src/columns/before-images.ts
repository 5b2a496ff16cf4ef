/** More cells changed at once than this are not noted one by one. */
const MOST_NOTED = 4096

/**
 * Before images: what cells held before they were changed, from one pass to the next, so that a total can take away what a row
 * added to it. The first note of a slot counts.
 */
export class BeforeImages {
  readonly #status: Map<number, number> = new Map()
  readonly #values: Map<number, number | string> = new Map()
  #isFull = false

  /** False once more has changed than was noted. */
  get isKnown(): boolean {
    return !this.#isFull
  }

  /** Notes a cell that is about to change. */
  note(slot: number, status: number, value: number | string): void {
    if (this.#isFull || this.#status.has(slot)) return
    if (this.#status.size >= MOST_NOTED) return this.giveUp()
    this.#status.set(slot, status)
    this.#values.set(slot, value)
  }

  /** So much changes that it is not noted. */
  giveUp(): void {
    this.clear()
    this.#isFull = true
  }

  /** The status of a slot before, or undefined when it has not changed. */
  statusOf(slot: number): number | undefined {
    return this.#status.get(slot)
  }

  /** The value of a slot before. */
  valueOf(slot: number): number | string | undefined {
    return this.#values.get(slot)
  }

  /** Begins anew. */
  clear(): void {
    this.#isFull = false
    if (this.#status.size === 0) return
    this.#status.clear()
    this.#values.clear()
  }
}
