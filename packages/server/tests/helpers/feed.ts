import { createParser } from 'eventsource-parser'

/** An event of a live feed. */
export interface Told {
  readonly event: string
  readonly id: string | undefined
  // biome-ignore lint/suspicious/noExplicitAny: a test looks for what there should be
  readonly data: any
}

/** Follows a live feed, and keeps what it tells. */
export class Following {
  readonly told: Told[] = []
  isEnded = false
  readonly #abort = new AbortController()

  /** Begins to follow, and waits until the feed has begun. */
  static async begin(url: string, token: string, query = '', last?: number): Promise<Following> {
    const following = new Following()
    const response = await fetch(`${url}/books/honey/changes${query}`, {
      headers: { authorization: `Bearer ${token}`, ...(last !== undefined && { 'last-event-id': String(last) }) },
      signal: following.#abort.signal,
    })
    if (!response.ok || response.body === null) throw new Error(await response.text())
    const reader = response.body.getReader()
    const decoder = new TextDecoder()
    const parser = createParser({
      onEvent: ({ event = '', id, data }) => following.told.push({ event, id, data: JSON.parse(data) }),
    })
    parser.feed(decoder.decode((await reader.read()).value))
    void following.#read(reader, (bytes) => parser.feed(decoder.decode(bytes, { stream: true })))
    return following
  }

  async #read(reader: ReadableStreamDefaultReader<Uint8Array>, take: (bytes: Uint8Array) => void): Promise<void> {
    try {
      for (let read = await reader.read(); !read.done; read = await reader.read()) take(read.value)
    } catch (error) {
      if (!this.#abort.signal.aborted && (error as Error).name !== 'TypeError') throw error
    }
    this.isEnded = true
  }

  /** Waits for so many events of a kind. */
  async wait(event: string, count = 1): Promise<readonly Told[]> {
    for (let waited = 0; ; waited += 5) {
      const found = this.told.filter((one) => one.event === event)
      if (found.length >= count) return found
      if (waited > 10_000) throw new Error(`waited in vain for ${count} × ${event}: ${JSON.stringify(this.told)}`)
      await new Promise((resolve) => setTimeout(resolve, 5))
    }
  }

  end(): void {
    this.#abort.abort()
  }
}
