import { type BookSession, type FaultFacts, SessionFault } from '@mellow-abacus/session'
import { type BookReader, hasRole, type ReaderOptions } from 'mellow-abacus'
import { foldName } from 'mellow-abacus/storage'
import { isDefining } from './answers/changes.js'
import { Audience } from './audience.js'
import { faultOf } from './fault-of.js'
import type { HeldBook } from './held-book.js'
import { HostSession } from './host-session.js'
import { Presence } from './presence.js'
import { RecentCells } from './recent-cells.js'
import type { SessionHome } from './session-home.js'

/** An edit that waits for its turn. */
interface WaitingEdit {
  readonly run: () => unknown
  readonly resolve: (answer: never) => void
  readonly reject: (fault: unknown) => void
}

/**
 * Owns one open workbook: serves any number of sessions at it, one thing at a time. Edits that have come by the time it looks
 * are kept for good together, with one wait for the disk; no answer, read or event shows a revision before it is.
 */
export class BookHost implements SessionHome<HostSession> {
  readonly mostPairs: number
  readonly presence: Presence = new Presence()
  #held: HeldBook
  readonly #sessions: Set<HostSession> = new Set()
  readonly #audiences: Map<string, Audience> = new Map()
  readonly #edits: WaitingEdit[] = []
  #unfollow: () => void
  #recent: RecentCells
  #isStaged = false
  #isDue = false
  /** How many look at the workbook in peace. */
  #looking = 0
  #isClosing = false
  #isClosed = false

  /** @param options - `mostPairs`: pairs of rows that a formula which is asked about may look at; any number when left out */
  constructor(held: HeldBook, { mostPairs = Number.POSITIVE_INFINITY }: { readonly mostPairs?: number } = {}) {
    this.mostPairs = mostPairs
    this.#held = held
    this.#recent = recentOf(held)
    this.#unfollow = this.#follow()
  }

  /** Its workbook now; another one after it had to be opened anew. */
  get held(): HeldBook {
    return this.#held
  }

  /** Who typed over which cells last. */
  get recent(): RecentCells {
    return this.#recent
  }

  /** How many sessions there are. */
  get sessions(): number {
    return this.#sessions.size
  }

  /**
   * Opens a session for a reader.
   *
   * @throws SessionFault where the host is closed; Refusal for a role that there is not
   */
  open(reader: ReaderOptions): BookSession {
    if (this.#isClosed) throw new SessionFault(CLOSED)
    const session = new HostSession(this, reader)
    this.#sessions.add(session)
    return session
  }

  /** Tells everybody who is there. */
  tellPresence(): void {
    for (const session of this.#sessions) session.tellPresence()
  }

  /** Forgets a session that was closed. */
  forget(session: HostSession): void {
    this.#sessions.delete(session)
    for (const [key, audience] of this.#audiences) {
      audience.forgetWindows()
      if (!audience.isThere) this.#audiences.delete(key)
    }
  }

  /** Those who see what a reader sees. */
  audienceOf(reader: BookReader): Audience {
    const groups = [...new Set(reader.groups.map(foldName))].sort()
    const key = JSON.stringify(hasRole(reader.role, 'define') ? 'all' : groups)
    const known = this.#audiences.get(key)
    if (known !== undefined) return known
    const made = new Audience(reader)
    this.#audiences.set(key, made)
    return made
  }

  /** Does an edit in its turn; the answer comes when what it did is kept for good. */
  edit<Answer>(run: () => Answer): Promise<Answer> {
    if (this.#isClosed) return Promise.reject(new SessionFault(CLOSED))
    return new Promise<Answer>((resolve, reject) => {
      this.#edits.push({ run, resolve, reject })
      this.#doEditsSoon()
    })
  }

  #doEditsSoon(): void {
    if (this.#isDue || this.#looking > 0 || this.#edits.length === 0) return
    this.#isDue = true
    soon(() => this.#doEdits())
  }

  /** Looks at the workbook for a while in which no edit is done. */
  async inPeace<Answer>(look: () => Promise<Answer>): Promise<Answer> {
    this.#looking++
    try {
      return await look()
    } finally {
      this.#looking--
      this.#doEditsSoon()
    }
  }

  /** Ends all sessions and closes the workbook; edits that wait are done before. */
  close(): void {
    if (this.#isClosed) return
    this.#isClosing = true
    this.#doEdits()
    if (this.#end()) this.#held.close()
  }

  /** Ends all sessions, and leaves the workbook as it was last kept; edits that wait are not done. */
  abandon(): void {
    if (this.#end()) this.#held.abandon()
  }

  /** Ends all sessions. @returns false where that was done before */
  #end(): boolean {
    if (this.#isClosed) return false
    this.#isClosed = true
    for (const session of [...this.#sessions]) session.end(CLOSED)
    for (const { reject } of this.#edits.splice(0)) reject(new SessionFault(CLOSED))
    this.#unfollow()
    return true
  }

  /** Does all edits that wait, and keeps them together. */
  #doEdits(): void {
    this.#isDue = false
    if (this.#looking > 0 && !this.#isClosing) return
    const edits = this.#edits.splice(0)
    if (edits.length === 0) return
    const answers: (() => void)[] = []
    try {
      this.#held.stage()
      this.#isStaged = true
      for (const { run, resolve, reject } of edits) {
        try {
          const answer = run()
          answers.push(() => resolve(answer as never))
        } catch (error) {
          answers.push(() => reject(faultOf(error)))
        }
      }
      this.#held.commit()
    } catch (error) {
      this.#isStaged = false
      return this.#openAnew(edits, error)
    }
    this.#isStaged = false
    this.#tell()
    for (const answer of answers) answer()
  }

  /** What could not be kept has not happened: the workbook is what was kept, and everybody is to look again. */
  #openAnew(edits: readonly WaitingEdit[], error: unknown): void {
    this.#unfollow()
    try {
      this.#held = this.#held.reopened()
    } catch (failed) {
      this.#isClosed = true
      for (const session of [...this.#sessions]) session.end(faultOf(failed).facts)
      for (const { reject } of edits) reject(faultOf(failed))
      return
    }
    this.#recent = recentOf(this.#held)
    this.#unfollow = this.#follow()
    this.#audiences.clear()
    for (const session of this.#sessions) session.takeReader()
    for (const audience of this.#audiences.values()) audience.reset(this.#held.view.revision)
    for (const { reject } of edits) reject(faultOf(error))
  }

  #follow(): () => void {
    const ended = this.#held.view.on('change', (change) => {
      this.#recent.note(change)
      for (const audience of this.#audiences.values()) audience.note(change, isDefining(change), this.#recent.met)
      // Cells that were calculated because they were read belong to a revision that is kept.
      if (!this.#isStaged) this.#tell()
    })
    return () => ended()
  }

  #tell(): void {
    for (const audience of this.#audiences.values()) audience.tell()
  }
}

function recentOf(held: HeldBook): RecentCells {
  return new RecentCells(held.view.revision, (after) => held.stepsAfter(after))
}

const CLOSED: FaultFacts = { code: 'closed', message: 'The workbook was closed.' }

/** Does something when what has come so far is in: all messages that a worker has got by then, or calls of one turn. */
function soon(work: () => void): void {
  if (typeof setImmediate === 'function') setImmediate(work)
  else setTimeout(work, 0)
}
