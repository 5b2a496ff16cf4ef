import type { BookReader } from 'mellow-abacus'
import type { Audience } from './audience.js'
import type { HeldBook } from './held-book.js'
import type { Presence } from './presence.js'
import type { RecentCells } from './recent-cells.js'

/** What a session needs of the host that it is at. */
export interface SessionHome<Session> {
  /** Its workbook now; another one after it had to be opened anew. */
  readonly held: HeldBook
  /** Pairs of rows that a formula which is asked about may look at. */
  readonly mostPairs: number
  /** Who typed over which cells last. */
  readonly recent: RecentCells
  /** Who says that they are there. */
  readonly presence: Presence
  /** Tells everybody who is there. */
  tellPresence(): void
  /** Those who see what a reader sees. */
  audienceOf(reader: BookReader): Audience
  /** Does an edit in its turn; the answer comes when what it did is kept for good. */
  edit<Answer>(run: () => Answer): Promise<Answer>
  /** Looks at the workbook for a while in which no edit is done. */
  inPeace<Answer>(look: () => Promise<Answer>): Promise<Answer>
  /** Forgets a session that was closed. */
  forget(session: Session): void
}
