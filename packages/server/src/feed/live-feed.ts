import { seenVisitor, type Visitor } from '@mellow-abacus/host'
import {
  type BookSession,
  type CellCount,
  type FeedCells,
  type LiveWindow,
  newsBetween,
  type Place,
  type SessionChange,
  type SessionEvent,
  type WindowRequest,
  type WindowShown,
} from '@mellow-abacus/session'
import { hasRole } from 'mellow-abacus'
import { foldName } from 'mellow-abacus/storage'
import { type EventSink, eventBytes } from './event-stream.js'

/** Changes that are kept for those who come again, by number and by characters. */
const MOST_KEPT = 2_000
const MOST_KEPT_TEXT = 8_000_000

/** What a reader wants of the feed. */
export interface Wanted {
  /** Names of tables; null for all. */
  readonly tables: readonly string[] | null
  /** Windows by the names that the reader gives them. */
  readonly windows: Readonly<Record<string, WindowRequest>>
}

interface Reader {
  readonly stream: EventSink
  /** Names of tables as they are compared, in order; null for all. */
  readonly tables: string | null
  readonly windows: ReadonlyMap<string, SharedWindow>
}

/** What is told of a revision; who is there, the server knows itself. */
type RevisionEvent = Extract<SessionEvent, { readonly revision: number }>

/** A window that all who ask for the same look through. */
interface SharedWindow {
  readonly key: string
  readonly request: WindowRequest
  readonly live: LiveWindow
  shown: WindowShown
  /** What has become of it since it was last told, as JSON. */
  news: string | null
  looking: number
}

/** What a change says in the feed, with what it was found with apart from it. */
interface KeptChange {
  readonly revision: number
  readonly change: SessionChange
}

/**
 * The live feed of a workbook for all who see the same of it: one session hears of everything once, and what is sent is put
 * together once for all who want the same.
 */
export class LiveFeed {
  readonly #session: BookSession
  readonly #seesAll: boolean
  readonly #readers: Set<Reader> = new Set()
  readonly #windows: Map<string, SharedWindow> = new Map()
  readonly #kept: KeptChange[] = []
  #keptText = 0
  /** Changes after this revision are kept. */
  #since = 0
  /** The revision last told of. */
  #revision = 0
  #columns: ReadonlyMap<string, ReadonlySet<string>> = new Map()
  #emptySince = Date.now()
  #isFlushDue = false

  private constructor(session: BookSession) {
    this.#session = session
    this.#seesAll = hasRole(session.reader.role, 'define')
  }

  /** Begins the feed of a session, which is its own from then on. */
  static async open(session: BookSession): Promise<LiveFeed> {
    const feed = new LiveFeed(session)
    const early: RevisionEvent[] = []
    let take = (event: RevisionEvent): void => void early.push(event)
    session.on((event) => {
      if ('revision' in event) take(event)
    })
    feed.#since = await feed.#lookAround()
    feed.#revision = feed.#since
    take = (event) => feed.#take(event)
    for (const event of early) if (event.revision > feed.#since) feed.#take(event)
    return feed
  }

  /** How many follow it. */
  get readers(): number {
    return this.#readers.size
  }

  /** True where nobody has followed it since a time. */
  isIdleSince(time: number): boolean {
    return this.#readers.size === 0 && this.#emptySince < time
  }

  /**
   * Tells someone of everything from now on, and of what they have missed.
   *
   * @param last - the revision that they heard of last; null for one who comes for the first time
   * @throws SessionFault for a window that cannot be
   */
  async add(stream: EventSink, { tables, windows }: Wanted, last: number | null): Promise<() => void> {
    const opened = new Map<string, SharedWindow>()
    try {
      for (const [name, request] of Object.entries(windows)) opened.set(name, await this.#window(request))
    } catch (error) {
      for (const window of opened.values()) this.#leave(window)
      throw error
    }
    const folded = tables === null ? null : JSON.stringify(tables.map(foldName).sort())
    const reader: Reader = { stream, tables: folded, windows: opened }
    if (last !== null) this.#tellMissed(reader, last)
    for (const [name, { request, shown }] of opened)
      stream.send(eventBytes('window', JSON.stringify({ window: name, ...newsBetween(null, shown, request.from ?? 1) })))
    this.#readers.add(reader)
    return () => {
      if (!this.#readers.delete(reader)) return
      for (const window of opened.values()) this.#leave(window)
      this.#emptySince = Date.now()
    }
  }

  #tellMissed(reader: Reader, last: number): void {
    if (last < this.#since || last > this.#revision) return reader.stream.send(resetBytes(this.#revision))
    for (const { revision, change } of this.#kept) {
      const text = revision > last ? changeBytes(change, revision, reader.tables) : null
      if (text !== null) reader.stream.send(text.whole)
    }
  }

  /** Tells who is there, each as far as they see where. */
  tellPresence(present: readonly Visitor[]): void {
    const text = eventBytes('presence', JSON.stringify({ present: this.seen(present) }))
    for (const { stream } of this.#readers) stream.send(text)
  }

  /** Those who are there, each as far as those who follow may see. */
  seen(present: readonly Visitor[]): Visitor[] {
    const knows = ({ table, column }: Place): boolean => {
      const columns = this.#columns.get(table)
      return columns !== undefined && (column === undefined || columns.has(column))
    }
    return present.map((one) => seenVisitor(one, knows, this.#seesAll))
  }

  /** Tells all that they are to begin anew. */
  tellReset(): void {
    const text = resetBytes(this.#revision)
    for (const { stream } of this.#readers) {
      stream.send(text)
      stream.end()
    }
  }

  /** Ends the streams of all; they are to come again. */
  endReaders(): void {
    for (const { stream } of [...this.#readers]) stream.end()
  }

  /** Ends the session that it hears from. */
  close(): Promise<void> {
    return this.#session.close()
  }

  /** Finds out what there is; gives the revision. */
  async #lookAround(): Promise<number> {
    const { revision, tables } = await this.#session.facts()
    this.#columns = new Map(tables.map(({ name, columns }) => [name, new Set(columns.map((column) => column.name))]))
    return revision
  }

  #lookAgain(): void {
    // Where the session ends meanwhile, there is no one to be told any more.
    this.#lookAround().catch(() => undefined)
  }

  #take(event: RevisionEvent): void {
    if (event.kind === 'reset') return this.#reset(event.revision)
    const { kind: _, ...change } = event
    if (change.definitions) this.#lookAgain()
    // What was calculated because it was read belongs to a revision that was told of.
    const id = change.revision > this.#revision ? change.revision : undefined
    if (id !== undefined) {
      this.#revision = id
      this.#keep(change)
    }
    this.#tell(change, id)
  }

  #keep(change: SessionChange): void {
    this.#kept.push({ revision: change.revision, change })
    this.#keptText += sizeOf(change)
    while (this.#kept.length > MOST_KEPT || this.#keptText > MOST_KEPT_TEXT) {
      const gone = this.#kept.shift() as KeptChange
      this.#keptText -= sizeOf(gone.change)
      this.#since = gone.revision
    }
  }

  /** Sends a change to all whom it concerns, with what has become of their windows. */
  #tell(change: SessionChange | null, id: number | undefined): void {
    const texts = new Map<string | null, ChangeBytes | null>()
    const joined = new Map<string, Uint8Array>()
    for (const reader of this.#readers) {
      if (change !== null && !texts.has(reader.tables)) texts.set(reader.tables, changeBytes(change, id, reader.tables))
      const text = texts.get(reader.tables) ?? null
      const news = newsOf(reader)
      if (news === '') {
        if (text !== null) reader.stream.send(text.whole)
        continue
      }
      if (text === null) {
        for (const [name, window] of reader.windows)
          if (window.news !== null)
            reader.stream.send(eventBytes('window', `{"window":${JSON.stringify(name)},${window.news.slice(1)}`))
        continue
      }
      const key = JSON.stringify([reader.tables, news])
      let whole = joined.get(key)
      if (whole === undefined) {
        whole = joinedBytes(text.before, eventBytes('change', `${text.data.slice(0, -1)},"windows":{${news}}}`, id))
        joined.set(key, whole)
      }
      reader.stream.send(whole)
    }
    for (const window of this.#windows.values()) window.news = null
  }

  #reset(revision: number): void {
    this.#kept.length = 0
    this.#keptText = 0
    this.#since = revision
    this.#revision = revision
    this.#lookAgain()
    const text = resetBytes(revision)
    for (const { stream } of this.#readers) stream.send(text)
  }

  async #window(request: WindowRequest): Promise<SharedWindow> {
    const key = JSON.stringify(request)
    const known = this.#windows.get(key)
    if (known !== undefined) {
      known.looking++
      return known
    }
    const live = await this.#session.watch(request)
    const meanwhile = this.#windows.get(key)
    if (meanwhile !== undefined) {
      live()
      meanwhile.looking++
      return meanwhile
    }
    const window: SharedWindow = { key, request, live, shown: live.current, news: null, looking: 1 }
    live.subscribe((shown) => {
      const former = window.news === null ? window.shown : null
      window.news = JSON.stringify(newsBetween(former, shown, request.from ?? 1))
      window.shown = shown
      this.#flushSoon()
    })
    this.#windows.set(key, window)
    return window
  }

  /** News of windows go with the change that they are from; where none comes, by themselves. */
  #flushSoon(): void {
    if (this.#isFlushDue) return
    this.#isFlushDue = true
    setTimeout(() => {
      this.#isFlushDue = false
      if ([...this.#windows.values()].some(({ news }) => news !== null)) this.#tell(null, undefined)
    }, 20)
  }

  #leave(window: SharedWindow): void {
    window.looking--
    if (window.looking > 0) return
    this.#windows.delete(window.key)
    window.live()
  }
}

/** A change as a reader is sent it: the findings first, then what changed. */
interface ChangeBytes {
  /** The findings, empty for none. */
  readonly before: Uint8Array
  readonly data: string
  readonly whole: Uint8Array
}

/** A change as those are told who want some tables; null where none of them is concerned. */
function changeBytes({ findings, ...change }: SessionChange, id: number | undefined, tables: string | null): ChangeBytes | null {
  const wanted = tables === null ? null : new Set(JSON.parse(tables) as string[])
  const isWanted = ({ table }: { readonly table?: string }): boolean =>
    wanted === null || table === undefined || wanted.has(foldName(table))
  const of = <Item extends { readonly table?: string }>(list: readonly Item[]): readonly Item[] => list.filter(isWanted)
  const { revision, author, at, definitions } = change
  const cells = cellCounts(of(change.changed), of(change.recalculated), of(change.stale))
  const lists = { inserted: of(change.inserted), removed: of(change.removed), met: of(change.met) }
  const said = Object.entries(lists).filter(([, list]) => list.length > 0)
  const told = { added: of(findings.added), removed: of(findings.removed) }
  const hasFindings = told.added.length > 0 || told.removed.length > 0
  if (wanted !== null && !definitions && !hasFindings && said.length === 0 && Object.keys(cells).length === 0) return null
  const before = hasFindings ? eventBytes('findings', JSON.stringify({ revision, ...told })) : new Uint8Array()
  const data = JSON.stringify({ revision, author, at, ...(definitions && { definitions }), cells, ...Object.fromEntries(said) })
  return { before, data, whole: joinedBytes(before, eventBytes('change', data, id)) }
}

const joinedBytes = (one: Uint8Array, other: Uint8Array): Uint8Array => (one.length === 0 ? other : Buffer.concat([one, other]))

/** How many cells of each column changed, were calculated, and are yet to be; by table and column. */
function cellCounts(...lists: readonly (readonly CellCount[])[]): FeedCells {
  const tables = new Map<string, Map<string, number[]>>()
  for (const [place, list] of lists.entries())
    for (const { table, column, rows } of list) {
      const columns = tables.get(table) ?? new Map<string, number[]>()
      const counts = columns.get(column) ?? []
      while (counts.length < place) counts.push(0)
      counts[place] = rows
      tables.set(table, columns.set(column, counts))
    }
  return Object.fromEntries([...tables].map(([table, columns]) => [table, Object.fromEntries(columns)]))
}

/** What has become of the windows of a reader, as the inside of a JSON object; empty where nothing has. */
function newsOf({ windows }: Reader): string {
  if (windows.size === 0) return ''
  const parts: string[] = []
  for (const [name, { news }] of windows) if (news !== null) parts.push(`${JSON.stringify(name)}:${news}`)
  return parts.join(',')
}

const resetBytes = (revision: number): Uint8Array => eventBytes('reset', JSON.stringify({ revision }))

/** About how many characters a change takes. */
const sizeOf = (change: SessionChange): number =>
  200 + 80 * (change.changed.length + change.recalculated.length) + 300 * change.findings.added.length
