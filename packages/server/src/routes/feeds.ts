import type { Caller, Door } from '../access/index.js'
import type { EventStream } from '../feed/index.js'

/** Milliseconds between two looks whether those who follow may still come in. */
const LOOK_MS = 500

interface FollowedFeed {
  readonly authorization: string | undefined
  readonly caller: Caller
}

/** The live feeds of all workbooks: each ends soon after what its reader showed is not good any more. */
export class Feeds {
  readonly #door: Door
  readonly #feeds: Map<EventStream, FollowedFeed> = new Map()
  readonly #timer: NodeJS.Timeout

  constructor(door: Door) {
    this.#door = door
    this.#timer = setInterval(() => void this.#look(), LOOK_MS)
    this.#timer.unref()
  }

  get size(): number {
    return this.#feeds.size
  }

  note(stream: EventStream, authorization: string | undefined, caller: Caller): void {
    this.#feeds.set(stream, { authorization, caller })
  }

  forget(stream: EventStream): void {
    this.#feeds.delete(stream)
  }

  /** Ends all of them: those who follow are to come again. */
  end(): void {
    clearInterval(this.#timer)
    for (const stream of this.#feeds.keys()) stream.end()
  }

  async #look(): Promise<void> {
    const isGood = new Map<string | undefined, boolean>()
    for (const [stream, { authorization, caller }] of [...this.#feeds]) {
      if (!isGood.has(authorization)) isGood.set(authorization, await this.#door.isStillGood(authorization, caller))
      if (isGood.get(authorization) === false) stream.end()
    }
  }
}
