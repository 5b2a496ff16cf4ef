import { type HostAddress, type HostQuestion, type HostThreads, MeetingPoint, Presence, ThreadHost } from '@mellow-abacus/host'
import type { BookSession } from '@mellow-abacus/session'
import { hasRole, type ReaderOptions, type Role } from 'mellow-abacus'
import { foldName } from 'mellow-abacus/storage'
import { LiveFeed } from '../feed/index.js'
import type { Claim } from '../store/index.js'

/** Milliseconds after which a session that nobody asks anything is closed. */
const SESSION_IDLE_MS = 300_000

/** How a workbook that is served is opened, and what is called for it. */
interface ServedOptions {
  readonly threads: HostThreads
  readonly waitMs: number
  readonly mostPairs: number
  readonly onTrouble: (trouble: string) => void
  readonly onMeeting: (question: HostQuestion) => HostAddress | null
  /** Called when its thread has ended, however. */
  readonly ended: () => void
}

interface OpenSession {
  readonly session: Promise<BookSession>
  usedAt: number
}

/** One workbook that is served: its host in a thread, sessions of those who ask, and feeds of those who follow. */
export class ServedBook {
  readonly name: string
  readonly presence: Presence = new Presence()
  readonly #claim: Claim
  readonly #host: ThreadHost
  /** Where programs of the same user find it; null where the folder takes no socket. */
  readonly #meeting: MeetingPoint | null
  readonly #sessions: Map<string, OpenSession> = new Map()
  readonly #feeds: Map<string, LiveFeed> = new Map()
  /** Requests that are on their way. */
  #running = 0
  #usedAt = Date.now()

  private constructor(name: string, claim: Claim, host: ThreadHost, meeting: MeetingPoint | null) {
    this.name = name
    this.#claim = claim
    this.#host = host
    this.#meeting = meeting
  }

  /**
   * Opens a workbook that was claimed.
   *
   * @throws BookFileFault as `BookFile.open`
   */
  static async open(name: string, claim: Claim, { ended, onMeeting, ...options }: ServedOptions): Promise<ServedBook> {
    const { onTrouble } = options
    const { file, keep } = claim
    const host = await ThreadHost.open(file, {
      ...options,
      ...(keep !== undefined && { keep }),
      onEnd: ended,
      onDeath: ({ stack = '' }) => onTrouble(stack),
    })
    // A copy is looked for by nobody else.
    const meeting = keep === undefined ? await meetingAt(file, options, onMeeting) : null
    return new ServedBook(name, claim, host, meeting)
  }

  /** False where another server may have it by now. */
  get isSure(): boolean {
    return this.#claim.isSure
  }

  /** When it was last used, in milliseconds since 1970; now, while it is. */
  get usedAt(): number {
    return this.isInUse ? Date.now() : this.#usedAt
  }

  /** True while someone asks or follows it. */
  get isInUse(): boolean {
    return this.#running > 0 || this.readers > 0
  }

  /** How many follow it. */
  get readers(): number {
    return [...this.#feeds.values()].reduce((sum, feed) => sum + feed.readers, 0)
  }

  /** Does something with the session of a reader. */
  async with<Answer>(reader: ReaderOptions, work: (session: BookSession) => Promise<Answer>): Promise<Answer> {
    this.#running++
    try {
      return await work(await this.#sessionOf(reader))
    } finally {
      this.#running--
      this.#usedAt = Date.now()
    }
  }

  #sessionOf(reader: ReaderOptions): Promise<BookSession> {
    const key = JSON.stringify([reader.role, reader.groups, reader.author])
    const known = this.#sessions.get(key)
    if (known !== undefined) {
      known.usedAt = Date.now()
      return known.session
    }
    const session = this.#open(reader)
    this.#sessions.set(key, { session, usedAt: Date.now() })
    // One that could not be opened is tried anew by the next who asks.
    session.catch(() => this.#sessions.delete(key))
    return session
  }

  /** Opens a session; changes are kept from then on for those who see the same, so that none is missed who follows later. */
  async #open(reader: ReaderOptions): Promise<BookSession> {
    const session = await this.#host.open(reader, { isSilent: true })
    await this.feedOf(reader)
    return session
  }

  /** The feed of those who see what a reader sees; `role` and groups decide. */
  async feedOf({ role = 'read', groups = [] }: ReaderOptions): Promise<LiveFeed> {
    const seesAll = hasRole(role, 'define')
    const key = JSON.stringify(seesAll ? 'all' : [...new Set(groups.map(foldName))].sort())
    const known = this.#feeds.get(key)
    if (known !== undefined) return known
    const least: Role = seesAll ? 'define' : 'read'
    const feed = await LiveFeed.open(await this.#host.open({ role: least, groups }))
    const meanwhile = this.#feeds.get(key)
    if (meanwhile !== undefined) {
      await feed.close()
      return meanwhile
    }
    this.#feeds.set(key, feed)
    return feed
  }

  /** Tells those who follow who is there, each as far as they see where. */
  tellPresence(): void {
    for (const feed of this.#feeds.values()) feed.tellPresence(this.presence.list())
  }

  /** Writes a copy into another file. */
  copyTo(path: string): Promise<void> {
    return this.#host.copyTo(path)
  }

  /** Closes sessions and feeds that nobody uses any more. */
  async tidy(now: number): Promise<void> {
    if (this.presence.forgetOld(now)) this.tellPresence()
    for (const [key, { session, usedAt }] of this.#sessions) {
      if (usedAt > now - SESSION_IDLE_MS || this.#running > 0) continue
      this.#sessions.delete(key)
      await (await session).close()
    }
    for (const [key, feed] of this.#feeds) {
      if (!feed.isIdleSince(now - SESSION_IDLE_MS)) continue
      this.#feeds.delete(key)
      await feed.close()
    }
  }

  /** Tells all who follow it to begin anew: the thread has ended. */
  async abandon(): Promise<void> {
    this.#meeting?.close()
    for (const feed of this.#feeds.values()) feed.tellReset()
    await this.#claim.release()
  }

  /** Ends everything at once, keeping nothing more: it is another's by now. Those who follow are to come again. */
  async giveUp(): Promise<void> {
    for (const feed of this.#feeds.values()) feed.endReaders()
    await this.#host.abandon()
    await this.#claim.release()
  }

  /** Ends all feeds, telling those who follow to come again, and closes the workbook. */
  async close(): Promise<void> {
    for (const feed of this.#feeds.values()) feed.endReaders()
    this.#meeting?.close()
    await this.#host.close()
    await this.#claim.release()
  }
}

/** The socket beside a workbook file; null where there can be none. */
async function meetingAt(
  file: string,
  { onTrouble }: Pick<ServedOptions, 'onTrouble'>,
  onMeeting: ServedOptions['onMeeting'],
): Promise<MeetingPoint | null> {
  return MeetingPoint.open(file, onMeeting).catch((error: Error) => {
    // It is served all the same; the terminal waits for the file, as for any other program that has it.
    onTrouble(`no socket beside the workbook: ${error.message}`)
    return null
  })
}
