import type { ChangeSet } from '../transaction/index.js'
import { later } from './later.js'
import { type Subscription, subscription } from './subscription.js'

/** Tells listeners of changes in the order they come; of change sets that is the order of their revisions. */
export class ChangeFeed<Change = ChangeSet> {
  readonly #listeners: Set<(change: Change) => void> = new Set()
  readonly #waiting: Change[] = []
  readonly onListenerError: (error: unknown) => void
  #isDelivering = false

  /** @param onListenerError - gets what listeners throw; unless given it is thrown anew later, outside the call */
  constructor(onListenerError: (error: unknown) => void = throwLater) {
    this.onListenerError = onListenerError
  }

  /** Adds a listener until its subscription ends. */
  add(listener: (change: Change) => void): Subscription {
    // Each time one is added is a subscription of its own, also of the same function.
    const own = (change: Change): void => listener(change)
    this.#listeners.add(own)
    return subscription(() => {
      this.#listeners.delete(own)
    })
  }

  /**
   * Tells everybody of a change before it returns. One that comes from within a listener waits until the one being told of
   * has reached every listener. A listener that throws keeps no one from hearing.
   */
  tell(change: Change): void {
    this.#waiting.push(change)
    if (this.#isDelivering) return
    this.#isDelivering = true
    try {
      for (let next = this.#waiting.shift(); next !== undefined; next = this.#waiting.shift()) this.#tellOne(next)
    } finally {
      this.#isDelivering = false
    }
  }

  #tellOne(change: Change): void {
    for (const listener of [...this.#listeners]) {
      if (!this.#listeners.has(listener)) continue
      try {
        listener(change)
      } catch (error) {
        this.onListenerError(error)
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
