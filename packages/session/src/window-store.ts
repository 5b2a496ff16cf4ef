import { type Ending, ending } from './changes.js'
import { afterNews, type LiveWindow, type WindowNews, type WindowShown, type WindowSpan } from './windows.js'

/** What moves a window and ends it, wherever it is kept up to date. */
export interface WindowHold {
  show(span: WindowSpan): Promise<void>
  end(): void
}

/** A window as the one who looks has it, put together of the news that come. */
export class WindowStore {
  readonly #listeners: Set<(shown: WindowShown) => void> = new Set()
  readonly #hold: WindowHold
  #shown: WindowShown
  #isEnded = false

  constructor(first: WindowNews, hold: WindowHold) {
    this.#shown = afterNews(null, first)
    this.#hold = hold
  }

  /** Takes in what has become of it. */
  take(news: WindowNews): void {
    if (this.#isEnded) return
    this.#shown = afterNews(this.#shown, news)
    for (const listener of [...this.#listeners]) listener(this.#shown)
  }

  /** The window to be handed out. */
  get window(): LiveWindow {
    return Object.defineProperties(
      ending(() => this.#end()),
      {
        current: { get: () => this.#shown },
        subscribe: { value: (listener: (shown: WindowShown) => void) => this.#subscribe(listener) },
        show: { value: (span: WindowSpan) => this.#hold.show(span) },
        [Symbol.asyncIterator]: { value: () => this.#each() },
      },
    ) as LiveWindow
  }

  #subscribe(listener: (shown: WindowShown) => void): Ending {
    // Each time one is added is a subscription of its own, also of the same function.
    const own = (shown: WindowShown): void => listener(shown)
    this.#listeners.add(own)
    return ending(() => void this.#listeners.delete(own))
  }

  #end(): void {
    if (this.#isEnded) return
    this.#isEnded = true
    this.#hold.end()
    for (const wake of this.#waiting.splice(0)) wake()
  }

  /** Those who wait for the next that it shows. */
  readonly #waiting: (() => void)[] = []

  /** What it shows now, and whatever it shows later; someone who is slow misses what was shown in between. */
  async *#each(): AsyncGenerator<WindowShown, undefined> {
    let told: WindowShown | null = null
    using _ = this.#subscribe(() => {
      for (const wake of this.#waiting.splice(0)) wake()
    })
    while (!this.#isEnded) {
      if (told !== this.#shown) {
        told = this.#shown
        yield told
      } else await new Promise<void>((resolve) => this.#waiting.push(resolve))
    }
    return undefined
  }
}
