import type pg from 'pg'
import { HeldElsewhere } from '../book-store.js'
import { ask, connections } from './connection.js'
import { SCHEMA } from './migrations.js'

/** Milliseconds for which a lease is good by the clock of the database, and after which it is renewed. */
const LEASE_MS = 3_000
const RENEW_MS = 1_000
/** Milliseconds without a word after which a server that has nothing is forgotten. */
const FORGOTTEN_MS = 3_600_000

const EXPIRY = `clock_timestamp() + interval '${LEASE_MS} milliseconds'`

/** The right to write a workbook: good until it expires unless it is renewed, and told from those before and after by its fence. */
export interface Lease {
  readonly book: number
  readonly fence: number
  /** When what last renewed it was asked for, by the clock of this process, which goes on while the process is stopped. */
  renewedAt: number
  readonly onLost: (reason: string) => void
}

/** The leases of one server, which tells the others every second that it is there. */
export class Leases {
  /** What this server is called among those of the store. */
  readonly server: string
  #address = ''
  readonly #pool: pg.Pool
  /** A connection of its own: it must not wait behind others. */
  readonly #beating: pg.Pool
  readonly #held: Map<number, Lease> = new Map()
  /** Called with the address of another server that has not said for a while that it is there. */
  onSilent: (address: string) => void = () => undefined
  #timer: NodeJS.Timeout | null = null
  #isBeating = false
  #isDraining = false

  /** @param store - the address of the database */
  constructor(server: string, pool: pg.Pool, store: string) {
    this.server = server
    this.#pool = pool
    this.#beating = connections(store, { server, most: 1, answerMs: LEASE_MS })
  }

  /** Begins to tell the others that this server is there, and where it is asked. */
  async begin(address: string): Promise<void> {
    this.#address = address
    await this.#sayPresent()
    this.#timer = setInterval(() => void this.#beat(), RENEW_MS)
    this.#timer.unref()
  }

  /**
   * Takes the lease of a workbook.
   *
   * @throws HeldElsewhere
   */
  async take(book: number, onLost: (reason: string) => void): Promise<Lease> {
    if (this.#isDraining) throw new HeldElsewhere(await this.#anotherServer())
    const renewedAt = performance.now()
    const rows = await ask<{ fence: number }>(
      this.#pool,
      // Another fence is another key, which waits for what is being written under the one before; renewing does not.
      `insert into ${SCHEMA}.leases as l (book, owner, fence, expires) values ($1, $2, 1, ${EXPIRY})
      on conflict (book) do update set owner = excluded.owner, fence = l.fence + 1, expires = excluded.expires
      where l.expires < clock_timestamp() returning fence`,
      [book, this.server],
    )
    const [taken] = rows
    if (taken === undefined) throw new HeldElsewhere(await this.#addressOf(book))
    const lease: Lease = { book, fence: taken.fence, renewedAt, onLost }
    this.#held.set(book, lease)
    return lease
  }

  /** True while no other server can have taken it. */
  isSure(lease: Lease): boolean {
    return this.#held.get(lease.book) === lease && performance.now() - lease.renewedAt < LEASE_MS
  }

  /** Gives a lease up, so that others need not wait until it expires. */
  async release(lease: Lease): Promise<void> {
    this.#forget(lease)
    await ask(this.#pool, `update ${SCHEMA}.leases set expires = '-infinity' where book = $1 and owner = $2 and fence = $3`, [
      lease.book,
      this.server,
      lease.fence,
    ])
  }

  /** Where the server is asked that has a workbook; null where that is none of the others. */
  async #addressOf(book: number): Promise<string | null> {
    const rows = await ask<{ address: string }>(
      this.#pool,
      `select s.address from ${SCHEMA}.leases as l join ${SCHEMA}.servers as s on s.id = l.owner where l.book = $1 and s.id <> $2`,
      [book, this.server],
    )
    return rows[0]?.address ?? null
  }

  /** Takes no more leases. */
  drain(): void {
    this.#isDraining = true
    void this.#beat()
  }

  /** Ends: the other servers are told that this one is not there any more. */
  async end(): Promise<void> {
    if (this.#timer !== null) clearInterval(this.#timer)
    await ask(this.#pool, `delete from ${SCHEMA}.servers where id = $1`, [this.server]).catch(() => undefined)
    await this.#beating.end()
  }

  /** Where another server is asked that takes workbooks; null where there is none. */
  async #anotherServer(): Promise<string | null> {
    const rows = await ask<{ address: string }>(
      this.#pool,
      `select address from ${SCHEMA}.servers where id <> $1 and not is_draining and beat > clock_timestamp() - interval '${LEASE_MS} milliseconds'
      order by random() limit 1`,
      [this.server],
    )
    return rows[0]?.address ?? null
  }

  #forget(lease: Lease): boolean {
    return this.#held.get(lease.book) === lease && this.#held.delete(lease.book)
  }

  /** Says that this server is there, and renews what it has; what it has not any more is told to who uses it. */
  async #beat(): Promise<void> {
    if (this.#isBeating) return
    this.#isBeating = true
    try {
      await this.#sayPresent()
      await this.#renew()
      await this.#listen()
    } catch {
      // The store cannot be asked; asked again at the next beat. What is lost meanwhile shows by the clock.
    } finally {
      this.#isBeating = false
    }
    for (const lease of [...this.#held.values()])
      if (performance.now() - lease.renewedAt >= LEASE_MS) this.#lose(lease, 'its lease could not be renewed in time')
  }

  async #sayPresent(): Promise<void> {
    await ask(
      this.#beating,
      `with gone as (delete from ${SCHEMA}.servers where beat < clock_timestamp() - interval '${FORGOTTEN_MS} milliseconds' and id <> $1)
      insert into ${SCHEMA}.servers (id, address, beat, is_draining) values ($1, $2, clock_timestamp(), $3)
      on conflict (id) do update set beat = excluded.beat, is_draining = excluded.is_draining`,
      [this.server, this.#address, this.#isDraining],
    )
  }

  /** Looks which of the other servers are silent. */
  async #listen(): Promise<void> {
    const silent = await ask<{ address: string }>(
      this.#beating,
      `select address from ${SCHEMA}.servers group by address having max(beat) < clock_timestamp() - interval '${LEASE_MS} milliseconds'`,
    )
    for (const { address } of silent) this.onSilent(address)
  }

  async #renew(): Promise<void> {
    const leases = [...this.#held.values()]
    if (leases.length === 0) return
    const askedAt = performance.now()
    const rows = await ask<{ book: number; fence: number }>(
      this.#beating,
      `update ${SCHEMA}.leases set expires = ${EXPIRY} where owner = $1 and book = any($2::bigint[]) and expires > clock_timestamp() returning book, fence`,
      [this.server, leases.map(({ book }) => book)],
    )
    const fences = new Map(rows.map(({ book, fence }) => [book, fence]))
    for (const lease of leases) {
      if (fences.get(lease.book) === lease.fence) lease.renewedAt = askedAt
      else this.#lose(lease, 'its lease had expired')
    }
  }

  #lose(lease: Lease, reason: string): void {
    if (this.#forget(lease)) lease.onLost(reason)
  }
}
