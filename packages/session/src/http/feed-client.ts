import { createParser, type EventSourceMessage } from 'eventsource-parser'
import { type CellCount, type Ending, ending, type SessionChange, type SessionEvent } from '../changes.js'
import { SessionFault } from '../session-fault.js'
import { WindowStore } from '../window-store.js'
import type { LiveWindow, WindowNews, WindowRequest, WindowSpan } from '../windows.js'
import type { Requests } from './requests.js'

/** Milliseconds before the stream is asked for again after it has ended; doubled each time in vain, up to the most. */
const FIRST_PAUSE_MS = 250
const MOST_PAUSE_MS = 8_000
/** Milliseconds without a byte after which the connection counts as lost: the server shows life three times as often. */
const SILENT_MS = 45_000

interface FedWindow {
  request: WindowRequest
  store: WindowStore | null
  readonly opened: (window: LiveWindow) => void
  readonly refused: (fault: unknown) => void
}

/** How many cells of each column changed, were calculated, and are yet to be; by table and column. */
export type FeedCells = Readonly<Record<string, Readonly<Record<string, readonly number[]>>>>

/** What a change says in the stream: its findings came before it, and news of windows come with it. */
interface FedChange extends Pick<SessionChange, 'revision' | 'author' | 'at'> {
  readonly cells: FeedCells
  readonly definitions?: true
  readonly inserted?: SessionChange['inserted']
  readonly removed?: SessionChange['removed']
  readonly met?: SessionChange['met']
  readonly windows?: Readonly<Record<string, WindowNews>>
}

/** The same as sessions are told of it. */
function sessionChange({ cells, windows: _, ...said }: FedChange, findings: SessionChange['findings']): SessionChange {
  const [changed, recalculated, stale]: [CellCount[], CellCount[], CellCount[]] = [[], [], []]
  for (const table of Object.keys(cells)) {
    const columns = cells[table] as FeedCells[string]
    for (const column of Object.keys(columns)) {
      const [own = 0, calculated = 0, waiting = 0] = columns[column] as readonly number[]
      if (own > 0) changed.push({ table, column, rows: own })
      if (calculated > 0) recalculated.push({ table, column, rows: calculated })
      if (waiting > 0) stale.push({ table, column, rows: waiting })
    }
  }
  return { definitions: false, inserted: [], removed: [], units: [], met: [], ...said, changed, recalculated, stale, findings }
}

/**
 * Follows the live feed of a workbook as long as someone wants to hear of it: comes again when the stream ends, and goes on
 * behind the revision that it heard of last.
 */
export class FeedClient {
  readonly #requests: Requests
  readonly #tell: (event: SessionEvent) => void
  readonly #windows: Map<string, FedWindow> = new Map()
  /** The revision heard of last; null to begin with what there is. */
  #last: number | null = null
  #findings: SessionChange['findings'] = { added: [], removed: [] }
  #isHeard = false
  #stream: AbortController | null = null
  #names = 0
  #isDue = false
  #pause = FIRST_PAUSE_MS
  /** Whether those who listen were told that the server cannot be reached. */
  #isLost = false

  /** @param tell - gets what is told of, where someone wants to hear it */
  constructor(requests: Requests, tell: (event: SessionEvent) => void) {
    this.#requests = requests
    this.#tell = tell
  }

  /** Says whether events are wanted, and from which revision on. */
  hear(isHeard: boolean, from: number): void {
    this.#isHeard = isHeard
    if (isHeard && this.#stream === null) this.#last = from
    this.#openSoon()
  }

  /**
   * Opens a window that follows every edit.
   *
   * @throws SessionFault for a window that cannot be
   */
  watch(request: WindowRequest, from: number): Promise<LiveWindow> {
    if (this.#stream === null) this.#last = from
    const name = `w${++this.#names}`
    return new Promise((opened, refused) => {
      this.#windows.set(name, { request, store: null, opened, refused })
      this.#openSoon()
    })
  }

  /** Ends the stream, for good. */
  end(): void {
    this.#isHeard = false
    this.#windows.clear()
    this.#stream?.abort()
    this.#stream = null
  }

  /** Opens the stream with all that is wanted by then, in place of the one there is. */
  #openSoon(): void {
    if (this.#isDue) return
    this.#isDue = true
    queueMicrotask(() => {
      this.#isDue = false
      this.#stream?.abort()
      this.#stream = null
      if (this.#isHeard || this.#windows.size > 0) void this.#follow()
    })
  }

  async #follow(): Promise<void> {
    const stream = new AbortController()
    this.#stream = stream
    while (this.#stream === stream) {
      try {
        await this.#read(stream.signal)
      } catch (error) {
        if (this.#stream !== stream) return
        if (error instanceof SessionFault && error.code !== 'lost' && error.code !== 'closed') return this.#refuse(error)
        this.#tellLost(true)
      }
      await pauseOf(this.#pause)
      this.#pause = Math.min(MOST_PAUSE_MS, this.#pause * 2)
    }
  }

  /** Reads the stream until it ends. */
  async #read(signal: AbortSignal): Promise<void> {
    const watch = Object.fromEntries([...this.#windows].map(([name, { request }]) => [name, wireRequest(request)]))
    const body = await this.#requests.stream('/changes', {
      signal,
      query: this.#windows.size > 0 ? { watch: JSON.stringify(watch) } : {},
      headers: this.#last === null ? {} : { 'last-event-id': String(this.#last) },
    })
    this.#tellLost(false)
    const parser = createParser({ onEvent: (event) => this.#take(event) })
    const decoder = new TextDecoder()
    const reader = body.getReader()
    const cut = (): void => void reader.cancel()
    using _ = onNetwork('offline', cut)
    for (;;) {
      const silent = setTimeout(cut, SILENT_MS)
      const { done, value } = await reader.read().finally(() => clearTimeout(silent))
      if (done || signal.aborted) return
      parser.feed(decoder.decode(value, { stream: true }))
      this.#pause = FIRST_PAUSE_MS
    }
  }

  #tellLost(isLost: boolean): void {
    if (this.#isLost === isLost) return
    this.#isLost = isLost
    if (this.#isHeard) this.#tell({ kind: 'connection', isLost })
  }

  #take({ event, data, id }: EventSourceMessage): void {
    const json = JSON.parse(data) as Record<string, unknown>
    if (event === 'findings') this.#findings = json as unknown as SessionChange['findings']
    else if (event === 'change') this.#takeChange(json as unknown as FedChange, id)
    else if (event === 'window') this.#takeWindow(String(json.window), json as unknown as WindowNews)
    else if (event === 'presence' && this.#isHeard) this.#tell({ kind: 'presence', present: json.present as never })
    else if (event === 'reset') {
      this.#last = null
      if (this.#isHeard) this.#tell({ kind: 'reset', revision: Number(json.revision ?? 0) })
      // What windows show comes whole with the next stream.
      this.#openSoon()
    }
  }

  #takeChange(change: FedChange, id: string | undefined): void {
    const { added, removed } = this.#findings
    this.#findings = { added: [], removed: [] }
    if (id !== undefined) this.#last = Number(id)
    for (const [name, news] of Object.entries(change.windows ?? {})) this.#takeWindow(name, news)
    if (this.#isHeard) this.#tell({ kind: 'change', ...sessionChange(change, { added, removed }) })
  }

  #takeWindow(name: string, { window: _, ...news }: WindowNews & { readonly window?: string }): void {
    const fed = this.#windows.get(name)
    if (fed === undefined) return
    if (fed.store !== null) return fed.store.take(news)
    fed.store = new WindowStore(news, {
      show: (span) => this.#show(fed, span),
      end: () => {
        this.#windows.delete(name)
        this.#openSoon()
      },
    })
    fed.opened(fed.store.window)
  }

  /** Shows other places: the stream is opened anew, and what the window shows comes with it. */
  #show(fed: FedWindow, span: WindowSpan): Promise<void> {
    fed.request = { ...fed.request, ...span }
    const shown = new Promise<void>((resolve) => {
      const told = fed.store?.window.subscribe(() => {
        told?.()
        resolve()
      })
    })
    this.#openSoon()
    return shown
  }

  /** What was asked for cannot be: those who wait are told, and a window that cannot be is no more. */
  #refuse(fault: SessionFault): void {
    this.#stream = null
    const waiting = [...this.#windows].filter(([, { store }]) => store === null)
    for (const [name, { refused }] of waiting) {
      this.#windows.delete(name)
      refused(fault)
    }
    // The others go on without it.
    if (waiting.length > 0) this.#openSoon()
  }
}

/** Where browsers tell whether there is a network; elsewhere nothing is told. */
const network = globalThis as {
  addEventListener?: (event: 'online' | 'offline', listener: () => void) => void
  removeEventListener?: (event: 'online' | 'offline', listener: () => void) => void
}

function onNetwork(event: 'online' | 'offline', listener: () => void): Ending {
  network.addEventListener?.(event, listener)
  return ending(() => network.removeEventListener?.(event, listener))
}

/** Waits so many milliseconds, or until there is a network again. */
async function pauseOf(ms: number): Promise<void> {
  await new Promise<void>((resolve) => {
    const timer = setTimeout(done, ms)
    const ended = onNetwork('online', done)
    function done(): void {
      clearTimeout(timer)
      ended()
      resolve()
    }
  })
}

/** A request for a window as it stands in an address: an order is text there. */
function wireRequest({ order, ...request }: WindowRequest): object {
  if (order === undefined) return request
  const text =
    typeof order === 'string'
      ? order
      : order
          .map(({ column, descending }) => `\`${column.replaceAll('`', '``')}\`${descending === true ? ' desc' : ''}`)
          .join(', ')
  return { ...request, order: text }
}
