import type { Client } from 'pg'
import { POSTGRESQL } from '../dialects/index.js'
import type { DatabaseAddress } from './address.js'
import { asFault, type Database, DatabaseFault, type DatabaseRow } from './database.js'

/** Settings that the statements count on, whatever the database or the role has set otherwise. */
const SETTINGS =
  "set extra_float_digits = 1; set standard_conforming_strings = on; set datestyle = 'ISO'; set intervalstyle = 'postgres'"

/**
 * Connects to PostgreSQL. User and password come from the environment (PGUSER, PGPASSWORD) or from ~/.pgpass.
 *
 * @throws DatabaseFault where no connection is made
 */
export async function connectPostgresql({ target: url, shown, kept }: DatabaseAddress): Promise<Database> {
  const { default: pg } = await import('pg')
  const types = {
    // Whole numbers as numbers: those of a model are within 2^53.
    getTypeParser: (id: number, format?: 'text' | 'binary') =>
      id === 20 ? Number : pg.types.getTypeParser(id, format as 'text'),
  }
  const client = new pg.Client({ connectionString: url, types: types as never, application_name: 'mellow-abacus' })
  // An error between queries, such as the server going away, shows at the next one.
  client.on('error', () => undefined)
  try {
    await client.connect()
    await client.query(SETTINGS)
  } catch (error) {
    await client.end().catch(() => undefined)
    throw new DatabaseFault(`no connection to ${shown}: ${(error as Error).message}`)
  }
  const notices = noticesOf(client)
  return {
    dialect: POSTGRESQL,
    address: shown,
    keptAddress: kept,
    run: async (statement) => {
      await client.query(statement).catch(asFault)
    },
    rows: async (query) => (await client.query<DatabaseRow>(query).catch(asFault)).rows,
    heard: notices,
    close: () => client.end(),
  }
}

/** Waits for notices of a server; those that come while nobody waits are not lost. */
function noticesOf(client: Client): (name: string, ms: number) => Promise<void> {
  const came = new Set<string>()
  const listened = new Set<string>()
  let wake = (): void => undefined
  client.on('notification', ({ channel }) => {
    came.add(channel)
    wake()
  })
  return async (name, ms) => {
    if (!listened.has(name)) {
      // Nothing was heard before, so there may have been something.
      listened.add(name)
      await client.query(`listen ${POSTGRESQL.quote(name)}`).catch(asFault)
      return
    }
    if (!came.has(name))
      await new Promise<void>((resolve) => {
        const timer = setTimeout(resolve, ms)
        wake = () => {
          clearTimeout(timer)
          resolve()
        }
      })
    came.delete(name)
  }
}
