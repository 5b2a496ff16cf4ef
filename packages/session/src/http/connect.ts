import type {
  BookFacts,
  BookSession,
  EditOptions,
  Exported,
  ExportFormat,
  ImportedChange,
  ImportedRows,
  LanguageSession,
  RowsAnswer,
  RowsRequest,
  SessionReader,
  TableFacts,
  TurnOptions,
} from '../book-session.js'
import { type AppliedChange, ending, type SessionEvent } from '../changes.js'
import type { Appearance, Someone } from '../presence.js'
import { type FaultFacts, SessionFault } from '../session-fault.js'
import type { SessionRow } from '../values.js'
import type { WireAnswer } from '../wire/index.js'
import { MEDIA_TYPES } from '../wire/media-types.js'
import { FeedClient } from './feed-client.js'
import { type Asking, type ConnectOptions, Requests } from './requests.js'

/** Rows of a page, where all are wanted. */
const PAGE_ROWS = 10_000

/**
 * A session at a workbook of a server. It comes again when the connection is lost, and windows go on.
 *
 * @param url - of the workbook, such as `https://honey.example/books/takings`
 * @throws SessionFault where the workbook is not there, or not open to the one who asks
 */
export async function connect(url: string, options: ConnectOptions = {}): Promise<BookSession> {
  const requests = new Requests(url, options)
  const { reader, revision } = await requests.json<WireAnswer<'book'>>('')
  return new HttpSession(requests, reader, revision).session
}

class HttpSession {
  readonly #requests: Requests
  readonly #reader: SessionReader
  readonly #feed: FeedClient
  readonly #listeners: Set<(event: SessionEvent) => void> = new Set()
  /** Names this session among those of the same token. */
  readonly #id: string = crypto.randomUUID()
  #appearance: Appearance | null = null
  #appearing: ReturnType<typeof setInterval> | undefined
  /** The newest revision that was answered or told of. */
  #revision: number
  #isClosed = false

  constructor(requests: Requests, reader: SessionReader, revision: number) {
    this.#requests = requests
    this.#reader = reader
    this.#revision = revision
    this.#feed = new FeedClient(requests, (event) => {
      if ('revision' in event) this.#revision = Math.max(this.#revision, event.revision)
      const told = event.kind === 'presence' ? { ...event, present: this.#seen(event.present) } : event
      for (const listener of [...this.#listeners]) listener(told)
    })
  }

  /** The session to be handed out. */
  get session(): BookSession {
    return {
      reader: this.#reader,
      facts: () => this.#facts(),
      apply: (operations, given) => this.#apply(operations, given),
      undo: (given) => this.#turn('undo', given),
      redo: (given) => this.#turn('redo', given),
      importRows: (table, rows, given) => this.#importRows(table, rows, given),
      exported: (what, format) => this.#exported(what, format),
      preview: (operations) => this.#ask('/operations', { method: 'POST', query: { preview: true }, body: operations }),
      query: (query) => this.#query(query),
      row: (table, id) => this.#row(table, id),
      seek: (seek) => this.#question({ seek }),
      report: (report, parameters) => this.#question({ report, ...(parameters !== undefined && { parameters }) }),
      chart: (chart, parameters) => this.#question({ chart, ...(parameters !== undefined && { parameters }) }),
      fit: (fit) => this.#question({ fit }),
      value: async (value) => (await this.#question<{ value: never }>({ value })).value,
      profile: (profile) => this.#question({ profile }),
      findings: async () => (await this.#ask<{ findings: never }>('/findings')).findings,
      explain: (table, formula) => this.#question({ explain: { table, formula } }),
      why: (address, row) => this.#question({ why: { address, ...(row !== undefined && { row }) } }),
      trace: (trace) => this.#question({ trace }),
      moved: (moved) => this.#question({ moved: { ...moved } }),
      suggest: async (suggest) => (await this.#question<{ suggestions: never }>({ suggest })).suggestions,
      formulasFor: async (table, words) =>
        (await this.#question<{ formulas: never }>({ formulasFor: { table, words } })).formulas,
      functions: async (functions) => (await this.#question<{ functions: never }>({ functions })).functions,
      history: (request = {}) => this.#ask('/history', { query: { ...request } }),
      accepting: ({ table, column, code, from, to }, because) =>
        this.#question({ accepting: { finding: { table, column, code, from, to }, because } }),
      appear: (appearance) => this.#appear(appearance),
      language: this.#language(),
      watch: (request) => {
        this.#refuseClosed()
        return this.#feed.watch(request, this.#revision)
      },
      on: (listener) => {
        const own = (event: SessionEvent): void => listener(event)
        this.#listeners.add(own)
        if (this.#listeners.size === 1) this.#feed.hear(true, this.#revision)
        return ending(() => {
          if (this.#listeners.delete(own) && this.#listeners.size === 0) this.#feed.hear(false, this.#revision)
        })
      },
      close: async () => {
        if (this.#appearance !== null) await this.#leave()
        this.#isClosed = true
        this.#feed.end()
      },
    }
  }

  async #ask<Answer>(path: string, asking: Asking = {}): Promise<Answer> {
    this.#refuseClosed()
    const answer = await this.#requests.json<Answer>(path, asking)
    const { revision } = (answer ?? {}) as { readonly revision?: unknown }
    if (typeof revision === 'number') this.#revision = Math.max(this.#revision, revision)
    return answer
  }

  async #appear(appearance: Appearance): Promise<readonly Someone[]> {
    this.#appearance = appearance
    clearInterval(this.#appearing)
    // Said again, since who says nothing for long is taken to be gone; what does not get through is said the next time.
    this.#appearing = setInterval(() => void this.#sayAgain().catch(() => undefined), APPEARING_MS)
    ;(this.#appearing as { unref?: () => void }).unref?.()
    return this.#sayAgain()
  }

  async #sayAgain(): Promise<readonly Someone[]> {
    const body = { ...this.#appearance, session: this.#id }
    return this.#seen((await this.#ask<WireAnswer<'setPresence'>>('/presence', { method: 'PUT', body })).present as Present)
  }

  /** Says that one goes; who cannot be told finds out. */
  async #leave(): Promise<void> {
    clearInterval(this.#appearing)
    await this.#ask('/presence', { method: 'PUT', body: { session: this.#id, leaves: true } }).catch(() => undefined)
  }

  #seen(present: Present): Someone[] {
    return present.map((one) => ({ ...one, isYou: one.id.endsWith(this.#id) }))
  }

  #question<Answer>(body: object): Promise<Answer> {
    return this.#ask('/query', { method: 'POST', body })
  }

  #refuseClosed(): void {
    if (this.#isClosed) throw new SessionFault(CLOSED)
  }

  /** Tables and what else there is, of the same revision. */
  async #facts(): Promise<BookFacts> {
    for (;;) {
      const { revision, values, functions, reports, charts } = await this.#ask<WireAnswer<'book'>>('')
      const found = await this.#ask<WireAnswer<'tables'>>('/tables')
      if (found.revision !== revision) continue
      const tables = found.tables.map(({ columns, ...table }) => ({
        ...table,
        columns: columns.map(({ display: _, ...column }) => column),
      })) as unknown as TableFacts[]
      return { revision, tables, values, functions, reports, charts } as unknown as BookFacts
    }
  }

  async #apply(operations: Parameters<BookSession['apply']>[0], given: EditOptions = {}): Promise<AppliedChange> {
    const { seen, expects, strict, asSeen } = given
    const change = await this.#ask<WireAnswer<'operations'>>('/operations', {
      method: 'POST',
      query: { expects: seen, revision: expects, strict },
      headers: writeHeaders(given),
      body: asSeen === undefined ? operations : { operations, asSeen },
    })
    return { rows: [], ...change } as unknown as AppliedChange
  }

  async #turn(kind: 'undo' | 'redo', given: TurnOptions = {}): Promise<AppliedChange | null> {
    const change = await this.#ask<WireAnswer<'undo'>>(`/${kind}`, { method: 'POST', headers: writeHeaders(given) })
    return change === null ? null : ({ rows: [], ...change } as unknown as AppliedChange)
  }

  async #importRows(table: string, { format, bytes, each }: ImportedRows, given: TurnOptions = {}): Promise<ImportedChange> {
    const { refused = [], ...change } = await this.#ask<Exclude<WireAnswer<'addRows'>, { id: number }>>(rowsPath(table), {
      method: 'POST',
      query: { each },
      headers: writeHeaders(given),
      type: MEDIA_TYPES[format],
      body: bytes,
    })
    const rows = (change.rows ?? []).map((row) => ({ table, ...row }))
    return { change: { ...change, rows } as unknown as AppliedChange, refused }
  }

  #exported(what: Exported, format: ExportFormat): Promise<Uint8Array> {
    this.#refuseClosed()
    return this.#requests.bytes('/query', {
      method: 'POST',
      body: what,
      query: { as: format },
      headers: { accept: MEDIA_TYPES[format] },
    })
  }

  /** Rows a page at a time, until there are as many as are wanted. */
  async #query(query: RowsRequest): Promise<RowsAnswer> {
    const page = (request: RowsRequest): Promise<RowsAnswer> => this.#question({ rows: request })
    if (query.limit !== undefined) return page(query)
    const rows: SessionRow[] = []
    let found = await page({ ...query, limit: PAGE_ROWS })
    rows.push(...found.rows)
    while (found.next !== null) {
      found = await page({ ...query, limit: PAGE_ROWS, after: found.next })
      rows.push(...found.rows)
    }
    return { ...found, rows }
  }

  async #row(table: string, id: number): ReturnType<BookSession['row']> {
    try {
      return await this.#ask(`${rowsPath(table)}/${id}`)
    } catch (error) {
      if (error instanceof SessionFault && error.code === 'unknown-row') return null
      throw error
    }
  }

  #language(): LanguageSession {
    const ask = async <Answer>(service: string, body: object): Promise<Answer> =>
      this.#ask(`/language/${service}`, { method: 'POST', body })
    return {
      findings: async (table, formula) => (await ask<{ findings: never }>('findings', { table, formula })).findings,
      complete: async (table, formula, offset) =>
        (await ask<{ completions: never }>('complete', { table, formula, offset })).completions,
      hover: async (table, formula, offset) => (await ask<{ hover: never }>('hover', { table, formula, offset })).hover,
      signature: async (table, formula, offset) =>
        (await ask<{ signature: never }>('signature', { table, formula, offset })).signature,
      format: async (table, formula) => (await ask<{ formula: string }>('format', { table, formula })).formula,
      rename: async (table, formula, offset, to) =>
        (await ask<{ rename: never }>('rename', { table, formula, offset, to })).rename,
      tokens: async (table, formula) => (await ask<{ tokens: never }>('tokens', { table, formula })).tokens,
      preview: async (table, { name, formula, ids }) =>
        (await ask<{ preview: never }>('preview', { table, name, formula, ids })).preview,
    }
  }
}

/** Those who are there, as they come over the wire. */
type Present = readonly Omit<Someone, 'isYou'>[]

/** Milliseconds after which one says again that one is there; a minute without is taken for being gone. */
const APPEARING_MS = 20_000

const CLOSED: FaultFacts = { code: 'closed', message: 'The session was closed.' }

const rowsPath = (table: string): string => `/tables/${encodeURIComponent(table)}/rows`

/** Every write has a key, so that it can be asked for again when no answer came. */
function writeHeaders({ key, returns }: TurnOptions): Record<string, string> {
  return {
    'idempotency-key': key?.name ?? crypto.randomUUID(),
    ...(returns === 'minimal' && { prefer: 'return=minimal' }),
  }
}
