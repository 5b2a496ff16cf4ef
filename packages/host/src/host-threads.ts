import { createRequire } from 'node:module'
import { type Transferable, Worker } from 'node:worker_threads'
import type { HostNews, HostOrder, ThreadNews, ThreadOrder } from './host-thread.js'

/** Milliseconds after which a thread that is to die is taken for one that calculates. */
const LONGEST_DYING_MS = 10_000

/** Who hears what is told of one host of a thread. */
export interface HostListener {
  readonly tell: (news: HostNews) => void
  /** The thread has ended: with the error that it had, or without one. */
  readonly ended: (error: Error | null) => void
}

/** A worker thread with hosts of workbook files. */
export class HostThread {
  readonly #worker: Worker
  readonly #listeners: Map<number, HostListener> = new Map()
  #hosts = 0
  #error: Error | null = null
  #isEnded = false

  readonly #isKept: boolean

  /** @param isKept - true for a thread that goes on without a host, for the next one */
  constructor(isKept: boolean) {
    this.#isKept = isKept
    this.#worker = new Worker(createRequire(import.meta.url).resolve('#host-thread'))
    this.#worker.on('error', (error) => {
      this.#error = error
    })
    this.#worker.on('message', ({ host, news }: ThreadNews) => this.#listeners.get(host)?.tell(news))
    this.#worker.on('exit', () => {
      this.#isEnded = true
      const listeners = [...this.#listeners.values()]
      this.#listeners.clear()
      for (const { ended } of listeners) ended(this.#error)
    })
  }

  /** How many hosts there are in it. */
  get size(): number {
    return this.#listeners.size
  }

  get isEnded(): boolean {
    return this.#isEnded
  }

  /** Adds a host. @returns its number in this thread */
  add(listener: HostListener): number {
    this.#listeners.set(++this.#hosts, listener)
    return this.#hosts
  }

  /** Forgets a host that is closed; the thread ends with its last one, unless it is kept for others. */
  forget(host: number): void {
    if (this.#listeners.delete(host) && this.#listeners.size === 0 && !this.#isKept) this.end()
  }

  /** Ends the thread, which has no host. */
  end(): void {
    this.#worker.postMessage({ end: true } satisfies ThreadOrder)
  }

  send(host: number, order: HostOrder, transfer: readonly Transferable[] = []): void {
    this.#worker.postMessage({ host, order } satisfies ThreadOrder, [...transfer])
  }

  /**
   * Ends the thread without closing anything, as a fault would. It is asked to, since a thread that is ended while it is in the
   * database takes the whole program along; one that does not answer is in a long calculation, and ended there.
   */
  async kill(): Promise<void> {
    if (this.#isEnded) return
    const ended = new Promise<void>((resolve) => this.#worker.once('exit', () => resolve()))
    this.#worker.postMessage({ die: true } satisfies ThreadOrder)
    const inVain = setTimeout(() => void this.#worker.terminate(), LONGEST_DYING_MS)
    await ended
    clearTimeout(inVain)
  }
}

/** Worker threads for hosts: each host has one of its own as long as there are not more hosts than threads. */
export class HostThreads {
  readonly #most: number
  readonly #kept: HostThread[]
  #others: HostThread[] = []

  /**
   * @param most - threads at once
   * @param kept - of them, those that are begun now and go on without a host: in them a workbook is open at once
   */
  constructor(most: number, kept = 0) {
    this.#most = most
    this.#kept = Array.from({ length: Math.min(kept, most) }, () => new HostThread(true))
  }

  /** The thread for another host: one that has none, a new one, or the one that has the fewest. */
  next(): HostThread {
    for (const [place, { isEnded }] of this.#kept.entries()) if (isEnded) this.#kept[place] = new HostThread(true)
    this.#others = this.#others.filter(({ isEnded, size }) => !isEnded && size > 0)
    const threads = [...this.#kept, ...this.#others]
    const [idle] = threads.filter(({ size }) => size === 0)
    if (idle !== undefined) return idle
    if (threads.length < this.#most) {
      const thread = new HostThread(false)
      this.#others.push(thread)
      return thread
    }
    return threads.reduce((least, thread) => (thread.size < least.size ? thread : least))
  }

  /** Ends the threads that are kept; all hosts are closed. */
  end(): void {
    for (const thread of this.#kept) if (!thread.isEnded) thread.end()
  }
}
