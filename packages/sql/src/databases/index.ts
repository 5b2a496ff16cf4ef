/**
 * Databases as they are spoken to: statements in, rows out. Passwords come from the environment and are kept nowhere. Start
 * reading at `database.ts`.
 * @module
 */

import { parseAddress } from './address.js'
import type { Database } from './database.js'

export { parseAddress } from './address.js'
export { atOneMoment, type Database, DatabaseFault, type DatabaseRow, readAtOneMoment } from './database.js'

/**
 * Opens the database at an address.
 *
 * @throws DatabaseFault for an address that is none, and where the database cannot be reached
 */
export async function openDatabase(text: string): Promise<Database> {
  const address = parseAddress(text)
  if (address.engine === 'duckdb') return (await import('./duckdb-database.js')).openDuckdb(address)
  return (await import('./postgresql-database.js')).connectPostgresql(address)
}
