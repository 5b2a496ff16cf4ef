import { DUCKDB } from '../dialects/index.js'
import type { DatabaseAddress } from './address.js'
import { asFault, type Database, DatabaseFault, type DatabaseRow } from './database.js'

/**
 * Opens a DuckDB file, which is made where there is none.
 *
 * @throws DatabaseFault where it cannot be opened
 */
export async function openDuckdb({ target: path, shown, kept }: DatabaseAddress): Promise<Database> {
  const { DuckDBInstance } = await import('@duckdb/node-api')
  const instance = await DuckDBInstance.create(path).catch((error: unknown) => {
    const reason = (error as Error).message
    const isHeld = /lock/i.test(reason)
    throw new DatabaseFault(isHeld ? `${path} is in use by another process.` : `${path} cannot be opened: ${reason}`)
  })
  const connection = await instance.connect()
  return {
    dialect: DUCKDB,
    address: shown,
    keptAddress: kept,
    run: async (statement) => {
      await connection.run(statement).catch(asFault)
    },
    rows: async (query) => {
      const result = await connection.runAndReadAll(query).catch(asFault)
      return result.getRowObjects().map((row): DatabaseRow => {
        const plain = Object.entries(row).map(([name, value]) => [name, typeof value === 'bigint' ? Number(value) : value])
        return Object.fromEntries(plain) as DatabaseRow
      })
    },
    heard: null,
    close: async () => {
      connection.closeSync()
      instance.closeSync()
    },
  }
}
