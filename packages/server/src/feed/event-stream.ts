import type { ServerResponse } from 'node:http'

/** Milliseconds between two signs of life. */
const PING_MS = 15_000
/** Milliseconds after which a reader who takes nothing is let go. */
const STUCK_MS = 60_000
/** Milliseconds in which a reader is to have taken what is left of a stream that ends. */
const ENDING_MS = 5_000
/** Milliseconds after which one whose stream has ended is to come again. */
const AGAIN_MS = 1_000

/** One event of a stream (WHATWG, server-sent events). Data is JSON, which has no line breaks. */
export function eventBytes(event: string, data: string, id?: number): Uint8Array {
  return Buffer.from(`${id === undefined ? '' : `id: ${id}\n`}event: ${event}\ndata: ${data}\n\n`)
}

/** What takes the events of a feed. */
export interface EventSink {
  /** Sends something, or notes that the reader has fallen behind. */
  send(bytes: Uint8Array): void
  /** Ends it; who reads is to come again. */
  end(): void
}

/** A stream of server-sent events to one reader. What waits for a slow one is bounded: beyond it they are to begin anew. */
export class EventStream implements EventSink {
  readonly #response: ServerResponse
  readonly #mostWaiting: number
  readonly #ping: NodeJS.Timeout
  /** Bytes that are not taken yet. */
  #waiting = 0
  #isBehind = false
  #behindSince = 0
  #isEnded = false

  /**
   * @param mostWaiting - bytes that may wait
   * @param ended - called when it has ended, from either side
   */
  constructor(response: ServerResponse, mostWaiting: number, ended: () => void) {
    this.#response = response
    this.#mostWaiting = mostWaiting
    this.#ping = setInterval(() => this.#showLife(), PING_MS)
    response.on('close', () => {
      this.#isEnded = true
      clearInterval(this.#ping)
      ended()
    })
    response.write(`retry: ${AGAIN_MS}\n\n`)
  }

  send(bytes: Uint8Array): void {
    if (this.#isEnded || this.#isBehind) return
    const { length } = bytes
    if (this.#waiting > 0 && this.#waiting + length > this.#mostWaiting) {
      this.#isBehind = true
      this.#behindSince = Date.now()
      return
    }
    this.#waiting += length
    this.#response.write(bytes, () => {
      this.#waiting -= length
      if (this.#waiting === 0) this.#catchUp()
    })
  }

  /** Ends it; the reader is to come again. */
  end(): void {
    if (this.#isEnded) return
    this.#isEnded = true
    clearInterval(this.#ping)
    this.#response.end()
    // One who takes nothing would keep it open.
    setTimeout(() => this.#response.destroy(), ENDING_MS).unref()
  }

  #catchUp(): void {
    if (!this.#isBehind || this.#isEnded) return
    this.#isBehind = false
    this.#response.write(eventBytes('reset', '{}'))
  }

  #showLife(): void {
    if (!this.#isBehind) this.#response.write(': here\n\n')
    else if (this.#behindSince < Date.now() - STUCK_MS) this.#response.destroy()
  }
}
