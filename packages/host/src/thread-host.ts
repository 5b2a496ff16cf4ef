import { MessageChannel } from 'node:worker_threads'
import { type BookFileCode, BookFileFault, type WrittenRow } from '@mellow-abacus/files'
import { type BookSession, type FaultFacts, SessionFault, sessionOverPort } from '@mellow-abacus/session'
import type { ReaderOptions } from 'mellow-abacus'
import type { HostNews } from './host-thread.js'
import { type HostThread, HostThreads } from './host-threads.js'
import { keepingLine } from './keeping.js'
import { portOfNode } from './ports/ports.js'

/** How a host is started in a thread. */
export interface ThreadHostOptions {
  /** The threads of which it gets one; one of its own when left out. */
  readonly threads?: HostThreads
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
  /** Called when it has ended, however. */
  readonly onEnd?: () => void
}

/** A host in a worker thread, which owns one workbook file: heavy work in it does not keep the program from anything else. */
export class ThreadHost {
  readonly path: string
  readonly #thread: HostThread
  readonly #host: number
  readonly #waiting: Set<(news: HostNews) => void> = new Set()
  readonly #ended: Promise<void>
  #sessions = 0
  #copies = 0
  #isClosed = false

  private constructor(path: string, { threads = new HostThreads(1), onDeath, onTrouble, onEnd }: ThreadHostOptions) {
    this.path = path
    this.#thread = threads.next()
    let end: () => void = () => undefined
    this.#ended = new Promise((resolve) => {
      end = resolve
    })
    const ended = (error: Error | null): void => {
      this.#isClosed = true
      if (error !== null) onDeath?.(error)
      this.#tell({ closed: true })
      onEnd?.()
      end()
    }
    this.#host = this.#thread.add({
      tell: (news) => {
        if ('trouble' in news) return onTrouble?.(news.trouble)
        if ('failed' in news || 'closed' in news) this.#thread.forget(this.#host)
        if ('closed' in news) return ended(null)
        this.#tell(news)
      },
      ended,
    })
  }

  /**
   * Opens a workbook file in a thread.
   *
   * @throws BookFileFault as `BookFile.open`
   */
  static async open(path: string, options: ThreadHostOptions = {}): Promise<ThreadHost> {
    const { waitMs, mostPairs, keep } = options
    const host = new ThreadHost(path, options)
    const keeping = keep === undefined ? undefined : keepingLine(keep)
    const order = {
      begin: path,
      ...(waitMs !== undefined && { waitMs }),
      ...(mostPairs !== undefined && { mostPairs }),
      ...(keeping !== undefined && { keeping }),
    }
    host.#thread.send(host.#host, order, keeping === undefined ? [] : [keeping.port])
    const news = await host.#next((one) => 'ready' in one || 'failed' in one)
    if ('failed' in news) throw new BookFileFault(news.failed.code as BookFileCode, news.failed.message)
    if ('closed' in news) throw new SessionFault(ENDED)
    return host
  }

  #tell(news: HostNews): void {
    for (const hear of [...this.#waiting]) hear(news)
  }

  /** The next news of a kind; that it is closed comes in place of any. */
  #next(isIt: (news: HostNews) => boolean): Promise<HostNews> {
    return new Promise((resolve) => {
      const hear = (news: HostNews): void => {
        if (!isIt(news) && !('closed' in news)) return
        this.#waiting.delete(hear)
        resolve(news)
      }
      this.#waiting.add(hear)
    })
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
    this.#thread.send(this.#host, { open: reader, port: port2, isSilent }, [port2])
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
    this.#thread.send(this.#host, { copyTo: path, copy })
    const news = await this.#next((one) => 'copied' in one && one.copied === copy)
    if ('closed' in news) throw new SessionFault(ENDED)
    if ('fault' in news && news.fault !== undefined) throw new SessionFault(news.fault)
  }

  /** Ends all sessions, writes what is to be written, and closes the file. */
  async close(): Promise<void> {
    await this.#end(false)
  }

  /** Ends all sessions, and leaves the file as it was last kept. */
  async abandon(): Promise<void> {
    await this.#end(true)
  }

  async #end(isAbandoned: boolean): Promise<void> {
    if (this.#isClosed) return
    this.#isClosed = true
    this.#thread.send(this.#host, { close: true, isAbandoned })
    await this.#ended
  }

  /** Ends the thread without closing anything, as a fault would, for all hosts that are in it; what was acknowledged is in the file. */
  async kill(): Promise<void> {
    await this.#thread.kill()
    await this.#ended
  }
}

const ENDED: FaultFacts = { code: 'closed', message: 'The workbook was closed.' }
