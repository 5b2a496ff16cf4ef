import { type HostAddress, type HostQuestion, HostThreads } from '@mellow-abacus/host'
import { type BookStore, HeldElsewhere } from '../store/index.js'
import { ServedBook } from './served-book.js'

/** Milliseconds between two looks for what is not used any more. */
const TIDY_MS = 5_000
/** Milliseconds to wait for another process that changes a workbook. */
const WAIT_MS = 2_000
/** Threads that wait for workbooks of other servers, which have ended: those who use them wait as well. */
const KEPT_THREADS = 2
/** Milliseconds for which a workbook that another server had is taken to be there still. */
const ELSEWHERE_MS = 250

/** What the workbooks that are open at once are limited by. */
export interface OpenLimits {
  readonly open: number
  readonly idleMs: number
  /** Worker threads for them; more workbooks share them. */
  readonly threads: number
  /** Pairs of rows that a formula which is asked about may look at. */
  readonly cost: number
}

/** Thrown where no more workbook can be opened: all that are open are in use. */
export class TooManyOpen extends Error {
  constructor() {
    super('as many workbooks are in use as may be open at once')
    this.name = 'TooManyOpen'
  }
}

/** The workbooks of a store that are open here: each is opened when it is first used, and closed when it is not used for long. */
export class OpenBooks {
  readonly store: BookStore
  readonly #limits: OpenLimits
  readonly #threads: HostThreads
  /** Where workbooks are asked that another server has, and since when that is known. */
  readonly #elsewhere: Map<string, { readonly address: string; readonly at: number }> = new Map()
  readonly #open: Map<string, Promise<ServedBook>> = new Map()
  readonly #closing: Map<string, Promise<void>> = new Map()
  readonly #timer: NodeJS.Timeout
  #isClosed = false

  /** Gets what went wrong inside a workbook. */
  onTrouble: (trouble: string) => void = () => undefined
  /** Tells programs of the same user, who find a workbook open here, how it is asked. */
  onMeeting: (name: string, question: HostQuestion) => HostAddress | null = () => null

  constructor(store: BookStore, limits: OpenLimits) {
    this.store = store
    this.#limits = limits
    this.#threads = new HostThreads(limits.threads, store.isShared ? KEPT_THREADS : 0)
    this.#timer = setInterval(() => void this.#tidy(), Math.min(TIDY_MS, limits.idleMs))
    this.#timer.unref()
  }

  /** How many are open. */
  get size(): number {
    return this.#open.size
  }

  /** Those that are open. */
  async *all(): AsyncGenerator<ServedBook> {
    for (const book of [...this.#open.values()]) {
      // One that could not be opened was told to who asked for it.
      const served = await book.catch(() => null)
      if (served !== null) yield served
    }
  }

  /**
   * A workbook of the store, open.
   *
   * @throws BookFileFault where it cannot be opened, HeldElsewhere, TooManyOpen
   */
  async get(name: string): Promise<ServedBook> {
    const known = this.#open.get(name)
    if (known !== undefined) {
      const book = await known
      if (book.isSure) return book
      this.#lose(name, 'its lease has expired')
    }
    await this.#closing.get(name)
    if (this.#isClosed) throw new TooManyOpen()
    await this.#makeRoom()
    return this.#open.get(name) ?? this.#begin(name)
  }

  #begin(name: string): Promise<ServedBook> {
    const book: Promise<ServedBook> = this.#claim(name, () => this.#noteEnd(name, book))
    this.#open.set(name, book)
    // The next who asks tries again.
    book.catch(() => this.#forget(name, book))
    return book
  }

  async #claim(name: string, ended: () => void): Promise<ServedBook> {
    const claim = await this.store.claim(name, (reason) => this.#lose(name, reason))
    this.#elsewhere.delete(name)
    try {
      return await ServedBook.open(name, claim, {
        threads: this.#threads,
        waitMs: WAIT_MS,
        mostPairs: this.#limits.cost,
        onTrouble: (trouble) => this.onTrouble(trouble),
        onMeeting: (question) => this.onMeeting(name, question),
        ended,
      })
    } catch (error) {
      await claim.release()
      throw error
    }
  }

  /**
   * Where a workbook is asked that another server has; null for one that is open here, which it is from then on if nobody has it.
   *
   * @throws as get, and HeldElsewhere where the other server cannot be asked
   */
  async elsewhere(name: string): Promise<string | null> {
    if (!this.store.isShared) return null
    const known = this.#elsewhere.get(name)
    if (known !== undefined && performance.now() - known.at < ELSEWHERE_MS) return known.address
    try {
      await this.get(name)
      return null
    } catch (error) {
      if (!(error instanceof HeldElsewhere) || error.address === null) throw error
      this.#elsewhere.set(name, { address: error.address, at: performance.now() })
      return error.address
    }
  }

  /** Forgets where a workbook was asked: it was not there. */
  forgetElsewhere(name: string): void {
    this.#elsewhere.delete(name)
  }

  /** Gives up all that are open, for other servers to take over; no more are opened here. */
  async drain(): Promise<void> {
    this.store.drain()
    await Promise.all([...this.#open.keys()].map((name) => this.close(name)))
  }

  /** A workbook is another server's by now: what is open of it here shows and keeps nothing any more. */
  #lose(name: string, reason: string): void {
    const book = this.#open.get(name)
    if (book === undefined) return
    this.onTrouble(`workbook ${name} is given up: ${reason}`)
    void this.#end(name, book, (served) => served.giveUp())
  }

  /** A thread has ended: the next who asks has the workbook opened anew, and those who follow it are to ask. */
  #noteEnd(name: string, book: Promise<ServedBook>): void {
    if (!this.#forget(name, book)) return
    void book.then((served) => served.abandon()).catch((error: unknown) => this.onTrouble(String(error)))
  }

  #forget(name: string, book: Promise<ServedBook>): boolean {
    return this.#open.get(name) === book && this.#open.delete(name)
  }

  /** Closes what was longest not used, where as many are open as may be. */
  async #makeRoom(): Promise<void> {
    while (this.#open.size >= this.#limits.open) {
      const books: ServedBook[] = []
      for await (const book of this.all()) if (!book.isInUse) books.push(book)
      const [oldest] = books.sort((a, b) => a.usedAt - b.usedAt)
      if (oldest === undefined) throw new TooManyOpen()
      await this.close(oldest.name)
    }
  }

  async #tidy(): Promise<void> {
    const now = Date.now()
    for await (const book of this.all()) {
      if (!book.isInUse && book.usedAt < now - this.#limits.idleMs) await this.close(book.name)
      else await book.tidy(now).catch((error: unknown) => this.onTrouble(String(error)))
    }
  }

  /** Closes a workbook, where it is open. */
  async close(name: string): Promise<void> {
    const book = this.#open.get(name)
    if (book === undefined) return this.#closing.get(name)
    return this.#end(name, book, (served) => served.close())
  }

  /** Ends what is open of a workbook; who asks for it meanwhile waits for that. */
  async #end(name: string, book: Promise<ServedBook>, how: (served: ServedBook) => Promise<void>): Promise<void> {
    this.#open.delete(name)
    const closing = (async () => {
      const served = await book.catch(() => null)
      if (served !== null) await how(served)
    })()
    this.#closing.set(name, closing)
    try {
      await closing
    } catch (error) {
      this.onTrouble(`workbook ${name}: ${(error as Error).message}`)
    } finally {
      if (this.#closing.get(name) === closing) this.#closing.delete(name)
    }
  }

  /** Closes all of them, for good. */
  async end(): Promise<void> {
    this.#isClosed = true
    clearInterval(this.#timer)
    await Promise.all([...this.#open.keys(), ...this.#closing.keys()].map((name) => this.close(name)))
    this.#threads.end()
  }
}
