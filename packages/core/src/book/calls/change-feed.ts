import type { ChangeSet } from '../transaction/index.js'
import { later } from './later.js'

/** Tells listeners of change sets, in the order of their revisions. */
export class ChangeFeed {
  readonly #listeners: Set<(change: ChangeSet) => void> = new Set()
  readonly #waiting: ChangeSet[] = []
  readonly #onListenerError: (error: unknown) => void
  #isWorthShowing = false

  /** @param onListenerError - gets what listeners throw; unless given it is thrown anew later, outside the call */
  constructor(onListenerError: (error: unknown) => void = throwLater) {
    this.#onListenerError = onListenerError
  }

  /** Adds a listener. Returns a function that takes it away again. */
  add(listener: (change: ChangeSet) => void): () => void {
    this.#listeners.add(listener)
    return () => {
      this.#listeners.delete(listener)
    }
  }

  /**
   * Tells everybody of a change set before it returns. One that comes from within a listener waits until the one being told of
   * has reached every listener. A listener that throws keeps no one from hearing.
   */
  tell(change: ChangeSet): void {
    this.#waiting.push(change)
    if (this.#isWorthShowing) return
    this.#isWorthShowing = true
    try {
      for (let next = this.#waiting.shift(); next !== undefined; next = this.#waiting.shift()) this.#tellOne(next)
    } finally {
      this.#isWorthShowing = false
    }
  }

  #tellOne(change: ChangeSet): void {
    for (const listener of [...this.#listeners]) {
      if (!this.#listeners.has(listener)) continue
      try {
        listener(change)
      } catch (error) {
        this.#onListenerError(error)
      }
    }
  }
}

/** Reports an error as the platform reports what no one caught, after the call during which it was thrown. */
function throwLater(error: unknown): void {
  later(() => {
    throw error
  })
}
