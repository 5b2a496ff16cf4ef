import pg from 'pg'

/** Milliseconds to wait for a connection, and for an answer. */
const CONNECT_MS = 2_000
const ANSWER_MS = 30_000
/** Milliseconds after which the server ends a transaction that its client, who may have been stopped, leaves open. */
const LEFT_OPEN_MS = 1_500

/** Thrown where the store cannot be used: the message says why. */
export class StoreFault extends Error {
  /** True where what was asked for may well be done a moment later, and perhaps is done: the connection failed, not that. */
  readonly isPassing: boolean

  constructor(message: string, { isPassing = false, ...options }: ErrorOptions & { readonly isPassing?: boolean } = {}) {
    super(message, options)
    this.name = 'StoreFault'
    this.isPassing = isPassing
  }
}

/**
 * Checks the address of a store: user and password come from the environment (PGUSER, PGPASSWORD) or from ~/.pgpass.
 *
 * @returns the address as it may be shown
 * @throws StoreFault for one that is none, or that holds a password, which others could see
 */
export function shownAddress(address: string): string {
  const url = URL.canParse(address) ? new URL(address) : null
  if (url === null || !/^postgres(ql)?:$/.test(url.protocol) || url.pathname.length < 2)
    throw new StoreFault('store: expected an address such as postgresql://db.example/bees.')
  if (url.password !== '' || url.searchParams.has('password'))
    throw new StoreFault(
      'store: an address with a password could be seen by others. Leave it out, and set PGPASSWORD or write it to ~/.pgpass.',
    )
  return `postgresql://${url.host}${url.pathname}`
}

/** Whole numbers as numbers: those of a workbook are within 2^53. */
const types = {
  getTypeParser: (id: number, format?: 'text' | 'binary') => (id === 20 ? Number : pg.types.getTypeParser(id, format as 'text')),
}

/** How a server connects. */
interface Connecting {
  /** What it is called among those of the store, as its connections tell who looks after the database. */
  readonly server: string
  /** Connections at once. */
  readonly most: number
  readonly answerMs?: number
}

/** Connections to a store, as many as are needed at once up to a limit. */
export function connections(address: string, { server, most, answerMs = ANSWER_MS }: Connecting): pg.Pool {
  const pool = new pg.Pool({
    connectionString: address,
    types: types as never,
    application_name: `mellow-abacus ${server}`,
    max: most,
    connectionTimeoutMillis: CONNECT_MS,
    query_timeout: answerMs,
    idle_in_transaction_session_timeout: LEFT_OPEN_MS,
    keepAlive: true,
  })
  // An idle connection that breaks is replaced by the next who asks.
  pool.on('error', () => undefined)
  return pool
}

/** SQLSTATE of a server that ends, begins, or has no room for another connection. */
const PASSING: ReadonlySet<string> = new Set(['57P01', '57P02', '57P03', '53300', '25P03'])

/** What can be asked: connections, or one of them. */
type Asked = Pick<pg.Pool, 'query'> | Pick<pg.PoolClient, 'query'>

/**
 * Asks the database.
 *
 * @throws StoreFault where it cannot be asked at the moment, and what it says against what is asked
 */
export async function ask<Row extends pg.QueryResultRow>(
  asked: Asked,
  text: string,
  values: readonly unknown[] = [],
): Promise<readonly Row[]> {
  try {
    return (await (asked as pg.PoolClient).query<Row>(text, [...values])).rows
  } catch (error) {
    if (!isPassing(error)) throw error
    throw new StoreFault(`the store cannot be asked: ${(error as Error).message}`, { isPassing: true, cause: error })
  }
}

function isPassing(error: unknown): boolean {
  if (!(error instanceof pg.DatabaseError)) return true
  const { code = '' } = error
  return code.startsWith('08') || PASSING.has(code)
}

/** Does something in a transaction. */
export async function together<Answer>(pool: pg.Pool, work: (client: pg.PoolClient) => Promise<Answer>): Promise<Answer> {
  const client = await pool.connect().catch((error: Error) => {
    throw new StoreFault(`the store cannot be asked: ${error.message}`, { isPassing: true, cause: error })
  })
  let broken: Error | undefined
  try {
    await ask(client, 'begin')
    const answer = await work(client)
    await ask(client, 'commit')
    return answer
  } catch (error) {
    // Where this cannot be said either, the connection is gone, and the transaction with it.
    await client.query('rollback').catch((failed: Error) => {
      broken = failed
    })
    throw error
  } finally {
    client.release(broken)
  }
}

/** Waits a while. */
export const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))
