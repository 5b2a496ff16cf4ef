import { randomUUID } from 'node:crypto'
import { mkdirSync, mkdtempSync, readdirSync, rmSync } from 'node:fs'
import { join } from 'node:path'
import { BookFile, BookFileFault, fillBookFile, type WrittenRow } from '@mellow-abacus/files'
import type pg from 'pg'
import { removeBookFile } from '../book-folder.js'
import { type BookStore, type Claim, isBookName } from '../book-store.js'
import { appending, type Statement, type Written } from './appending.js'
import { ask, connections, pause, StoreFault, shownAddress, together } from './connection.js'
import { keptRows } from './kept-rows.js'
import { type Lease, Leases } from './leases.js'
import { migrate, SCHEMA } from './migrations.js'

/** Connections of one server at once, besides the one for its leases. */
const MOST_CONNECTIONS = 10
/** Milliseconds for which a workbook that was there is taken to be there still. */
const THERE_MS = 250
/** Milliseconds between two tries to keep something while the database cannot be asked. */
const TRY_MS = 50
/** SQLSTATE of a row that is there already. */
const UNIQUE = '23505'

/** How a store is opened. */
export interface StoreOptions {
  /** The address of the database, without password. */
  readonly store: string
  /** A folder of this machine, for copies of the workbooks that this server has. */
  readonly folder: string
}

/**
 * Workbooks in tables of PostgreSQL. Who claims one has a copy of it as a file, and all that is written into that is kept in the
 * tables first, under the lease.
 */
export class PostgresqlStore implements BookStore {
  readonly isShared = true
  /** The copies of this server, which nobody else looks at. */
  readonly folder: string
  readonly pool: pg.Pool
  readonly #leases: Leases
  #isDraining = false
  readonly #seen: Map<string, { readonly book: number; readonly at: number }> = new Map()

  private constructor(pool: pg.Pool, leases: Leases, folder: string) {
    this.pool = pool
    this.#leases = leases
    this.folder = folder
  }

  /**
   * Connects to a store, and makes or upgrades its tables.
   *
   * @throws StoreFault where that cannot be
   */
  static async open({ store, folder }: StoreOptions): Promise<PostgresqlStore> {
    const shown = shownAddress(store)
    const server = randomUUID()
    const pool = connections(store, { server, most: MOST_CONNECTIONS })
    try {
      await migrate(pool)
      return new PostgresqlStore(pool, new Leases(server, pool, store), copiesIn(folder))
    } catch (error) {
      await pool.end()
      if (error instanceof StoreFault) throw error
      throw new StoreFault(`store: ${shown} cannot be used: ${(error as Error).message}`, { cause: error })
    }
  }

  set onSilent(hear: (address: string) => void) {
    this.#leases.onSilent = hear
  }

  announce(address: string): Promise<void> {
    return this.#leases.begin(address)
  }

  async ready(): Promise<void> {
    if (this.#isDraining) throw new StoreFault('this server gives up its workbooks')
    await ask(this.pool, 'select 1')
  }

  async names(): Promise<readonly string[]> {
    const rows = await ask<{ name: string }>(this.pool, `select name from ${SCHEMA}.books order by name collate "C"`)
    return rows.map(({ name }) => name)
  }

  async has(name: string): Promise<boolean> {
    return (await this.#idOf(name)) !== undefined
  }

  async takeIn(name: string, file: string): Promise<void> {
    const opened = BookFile.open(file, { writes: true })
    try {
      await together(this.pool, async (client) => {
        const made = await ask<{ id: number }>(client, `insert into ${SCHEMA}.books (name) values ($1) returning id`, [name])
        for (const { text, values } of inBatches(opened.rows(), made[0]?.id as number)) await ask(client, text, values)
      })
    } catch (error) {
      if (isThereAlready(error)) throw new BookFileFault('exists', `there is a workbook ${name} already.`)
      throw error
    } finally {
      opened.close()
      removeBookFile(file)
    }
  }

  async remove(name: string): Promise<void> {
    await ask(this.pool, `delete from ${SCHEMA}.books where name = $1`, [name])
    this.#seen.delete(name)
  }

  async claim(name: string, onLost: (reason: string) => void): Promise<Claim> {
    const book = await this.#idOf(name)
    if (book === undefined) throw new BookFileFault('missing', `there is no workbook ${name}.`)
    const lease = await this.#leases.take(book, onLost)
    const file = join(this.folder, `${name}-${lease.fence}.mellow`)
    const release = async (): Promise<void> => {
      removeBookFile(file)
      await this.#leases.release(lease)
    }
    try {
      await fillBookFile(file, keptRows(this.pool, book))
    } catch (error) {
      // Where this cannot be told to the database either, it expires.
      await release().catch(() => undefined)
      throw error
    }
    const isSure = (): boolean => this.#leases.isSure(lease)
    return {
      file,
      keep: async (written) => {
        try {
          await this.#keep(lease, written)
        } catch (error) {
          // What is open of it is ahead of what is kept, or what is kept is another's.
          onLost((error as Error).message)
          throw error
        }
      },
      get isSure() {
        return isSure()
      },
      release,
    }
  }

  drain(): void {
    this.#isDraining = true
    this.#leases.drain()
  }

  async close(): Promise<void> {
    await this.#leases.end()
    await this.pool.end()
    rmSync(this.folder, { recursive: true, force: true })
  }

  /** The id of a workbook; undefined where there is none. */
  async #idOf(name: string): Promise<number | undefined> {
    if (!isBookName(name)) return undefined
    const now = performance.now()
    const seen = this.#seen.get(name)
    if (seen !== undefined && now - seen.at < THERE_MS) return seen.book
    const [found] = await ask<{ id: number }>(this.pool, `select id from ${SCHEMA}.books where name = $1`, [name])
    const book = found?.id
    if (book === undefined) this.#seen.delete(name)
    else this.#seen.set(name, { book, at: now })
    return book
  }

  /**
   * Keeps rows under a lease. Where the connection breaks it is not known whether they are kept; they are looked for then, and
   * written where they are not, as long as the lease is sure.
   */
  async #keep(lease: Lease, written: readonly WrittenRow[]): Promise<void> {
    const append = randomUUID()
    const statements = appending(written, underLease(lease, this.#leases.server, append))
    for (;;) {
      try {
        if (await this.#run(statements)) return
        throw new StoreFault('another server has the workbook')
      } catch (error) {
        // What is there already was written by the try before, whose answer did not come.
        const isWorthAnother = error instanceof StoreFault ? error.isPassing : isThereAlready(error)
        if (!isWorthAnother || !this.#leases.isSure(lease)) throw error
        await pause(TRY_MS)
        if (await this.#wasKept(lease.book, append).catch(() => false)) return
      }
    }
  }

  /** Runs statements, all or none of them. @returns false where they may not be run */
  async #run(statements: readonly Statement[]): Promise<boolean> {
    const [only, ...others] = statements
    // A single statement is all that there is on its way: who is stopped meanwhile leaves nothing open.
    if (only !== undefined && others.length === 0) return isRun(this.pool, only)
    try {
      await together(this.pool, async (client) => {
        for (const statement of statements) if (!(await isRun(client, statement))) throw new NotHeld()
      })
      return true
    } catch (error) {
      if (error instanceof NotHeld) return false
      throw error
    }
  }

  async #wasKept(book: number, append: string): Promise<boolean> {
    const found = await ask(this.pool, `select 1 from ${SCHEMA}.appends where book = $1 and append = $2`, [book, append])
    return found.length === 1
  }
}

/** What must hold to write under a lease: it is good still. What was written last is noted beside it. */
function underLease({ book, fence }: Lease, server: string, append: string): Written {
  return {
    book,
    may: `select 1 from ${SCHEMA}.leases where book = $1::bigint and owner = $2::uuid and fence = $3::bigint and expires > clock_timestamp() for key share`,
    besides: `insert into ${SCHEMA}.appends (book, append) select $1::bigint, $4::uuid from may on conflict (book) do update set append = excluded.append`,
    parameters: [book, server, fence, append],
  }
}

function isThereAlready(error: unknown): boolean {
  return (error as { readonly code?: unknown }).code === UNIQUE
}

/** Ends a transaction that may not be. */
class NotHeld extends Error {}

/** Runs a statement. @returns false where it may not be run, and has done nothing */
async function isRun(asked: pg.Pool | pg.PoolClient, { text, values }: Statement): Promise<boolean> {
  const [first] = await ask<{ held: number }>(asked, text, values)
  return first?.held === 1
}

/** Rows that are taken in at once. */
const AT_ONCE = 200

/** The statements that write all rows of a file. */
function* inBatches(rows: Iterable<WrittenRow>, book: number): Generator<Statement> {
  let batch: WrittenRow[] = []
  const statements = (): Statement[] => appending(batch, { book, may: 'select 1', parameters: [] })
  for (const row of rows) {
    batch.push(row)
    if (batch.length < AT_ONCE) continue
    yield* statements()
    batch = []
  }
  yield* statements()
}

/** What the folders of copies are called, with the process that they are of. */
const COPIES = /^copies-(\d+)-/

/** A folder for copies of this process; those of processes that are no more are removed. */
function copiesIn(folder: string): string {
  for (const name of readdirSync(folder)) {
    const process = COPIES.exec(name)?.[1]
    if (process !== undefined && !isThere(Number(process))) rmSync(join(folder, name), { recursive: true, force: true })
  }
  mkdirSync(folder, { recursive: true })
  return mkdtempSync(join(folder, `copies-${process.pid}-`))
}

function isThere(pid: number): boolean {
  try {
    process.kill(pid, 0)
    return true
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM'
  }
}
