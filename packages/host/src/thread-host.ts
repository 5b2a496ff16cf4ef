import { createRequire } from 'node:module'
import { MessageChannel, Worker } from 'node:worker_threads'
import { type BookFileCode, BookFileFault, type WrittenRow } from '@mellow-abacus/files'
import { type BookSession, type FaultFacts, SessionFault, sessionOverPort } from '@mellow-abacus/session'
import type { ReaderOptions } from 'mellow-abacus'
import type { ThreadData, ThreadNews, ThreadOrder } from './host-thread.js'
import { keepingLine } from './keeping.js'
import { portOfNode } from './ports/ports.js'

/** How the thread of a host is started. */
export interface ThreadHostOptions {
  /** Milliseconds to wait for another process that changes the workbook; 10 000 unless given. */
  readonly waitMs?: number
  /** Pairs of rows that a formula which is asked about may look at; any number when left out. */
  readonly mostPairs?: number
  /**
   * Keeps for good what is written into the file, which then is a copy: nothing is told of before it is kept. Where it rejects, the
   * sessions end.
   */
  readonly keep?: (written: readonly WrittenRow[]) => Promise<void>
  /** Gets what went wrong where the thread ends without being asked to. */
  readonly onDeath?: (error: Error) => void
  /** Gets what went wrong inside, of which sessions are told nothing more than that. */
  readonly onTrouble?: (trouble: string) => void
  /** Called when the thread has ended, however. */
  readonly onEnd?: () => void
}

/** A host in a worker thread of its own, which owns one workbook file: heavy work in it keeps nothing else from going on. */
export class ThreadHost {
  readonly path: string
  readonly #worker: Worker
  #sessions = 0
  #copies = 0
  #isClosed = false

  private constructor(path: string, worker: Worker) {
    this.path = path
    this.#worker = worker
  }

  /**
   * Opens a workbook file in a thread.
   *
   * @throws BookFileFault as `BookFile.open`
   */
  static async open(
    path: string,
    {
      waitMs,
      mostPairs,
      keep,
      onDeath = () => undefined,
      onTrouble = () => undefined,
      onEnd = () => undefined,
    }: ThreadHostOptions = {},
  ): Promise<ThreadHost> {
    const keeping = keep === undefined ? undefined : keepingLine(keep)
    const workerData: ThreadData = {
      path,
      ...(waitMs !== undefined && { waitMs }),
      ...(mostPairs !== undefined && { mostPairs }),
      ...(keeping !== undefined && { keeping }),
    }
    const transferList = keeping === undefined ? [] : [keeping.port]
    const worker = new Worker(createRequire(import.meta.url).resolve('#host-thread'), { workerData, transferList })
    const host = new ThreadHost(path, worker)
    await new Promise<void>((resolve, reject) => {
      worker.once('message', (news: ThreadNews) => {
        if ('failed' in news) reject(new BookFileFault(news.failed.code as BookFileCode, news.failed.message))
        else resolve()
      })
      worker.once('error', reject)
    })
    worker.on('error', onDeath)
    worker.on('message', (news: ThreadNews) => {
      if ('trouble' in news) onTrouble(news.trouble)
    })
    worker.on('exit', () => {
      host.#isClosed = true
      onEnd()
    })
    return host
  }

  /** How many sessions are open. */
  get sessions(): number {
    return this.#sessions
  }

  /**
   * Opens a session for a reader.
   *
   * @param options - `isSilent`: true for one that is told of no events, each of which is a message
   * @throws SessionFault where the host is closed, or the reader is none
   */
  open(reader: ReaderOptions, { isSilent = false }: { readonly isSilent?: boolean } = {}): Promise<BookSession> {
    if (this.#isClosed) return Promise.reject(new SessionFault(ENDED))
    const { port1, port2 } = new MessageChannel()
    const port = portOfNode(port1)
    this.#sessions++
    // The other end closes with its thread, however that ends.
    port1.on('close', () => {
      this.#sessions--
      port1.emit('message', { ended: ENDED })
    })
    const order: ThreadOrder = { open: reader, port: port2, isSilent }
    this.#worker.postMessage(order, [port2])
    return sessionOverPort(port)
  }

  /**
   * Writes a copy of the workbook, as it was last kept, into another file.
   *
   * @throws SessionFault where none can be written there, or the host is closed
   */
  async copyTo(path: string): Promise<void> {
    if (this.#isClosed) throw new SessionFault(ENDED)
    const copy = ++this.#copies
    const news = await new Promise<ThreadNews>((resolve) => {
      const told = (one: ThreadNews): void => {
        if ('copied' in one ? one.copied !== copy : !('closed' in one)) return
        this.#worker.off('message', told)
        this.#worker.off('exit', ended)
        resolve(one)
      }
      const ended = (): void => told({ closed: true })
      this.#worker.on('message', told)
      this.#worker.once('exit', ended)
      this.#worker.postMessage({ copyTo: path, copy } satisfies ThreadOrder)
    })
    if ('closed' in news) throw new SessionFault(ENDED)
    if ('fault' in news && news.fault !== undefined) throw new SessionFault(news.fault)
  }

  /** Ends all sessions, writes what is to be written, and closes the file. */
  async close(): Promise<void> {
    if (this.#isClosed) return
    this.#isClosed = true
    const ended = new Promise<void>((resolve) => this.#worker.once('exit', () => resolve()))
    this.#worker.postMessage({ close: true } satisfies ThreadOrder)
    await ended
  }

  /**
   * Ends the thread without closing anything, as a fault would; what was acknowledged is in the file. It is asked to, since a
   * thread that is ended while it is in the database takes the whole program along; one that does not answer is in a long
   * calculation, and ended there.
   */
  async kill(): Promise<void> {
    const ended = new Promise<void>((resolve) => this.#worker.once('exit', () => resolve()))
    if (this.#isClosed) return
    this.#worker.postMessage({ die: true } satisfies ThreadOrder)
    const inVain = setTimeout(() => void this.#worker.terminate(), LONGEST_DYING_MS)
    await ended
    clearTimeout(inVain)
  }
}

/** Milliseconds after which a thread that is to die is taken for one that calculates. */
const LONGEST_DYING_MS = 10_000

const ENDED: FaultFacts = { code: 'closed', message: 'The workbook was closed.' }
