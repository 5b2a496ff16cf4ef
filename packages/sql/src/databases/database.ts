import type { Dialect } from '../dialects/index.js'

/** A row of a query: values by the names of its columns. */
export type DatabaseRow = Readonly<Record<string, unknown>>

/** A database that a model is published to. */
export interface Database {
  readonly dialect: Dialect
  /** Its address, as it may be shown: nothing in it is secret. */
  readonly address: string
  /** Its address as it may be kept. */
  readonly keptAddress: string
  /** Runs a statement, or several; throws DatabaseFault where the engine refuses one. */
  run(statement: string): Promise<void>
  /** Runs a query; whole numbers are numbers, everything else as the engine gives it. Throws DatabaseFault as `run` does. */
  rows(query: string): Promise<readonly DatabaseRow[]>
  /** Waits until a notice comes under a name, or one has come since it was waited for last, at most so many milliseconds. */
  readonly heard: ((name: string, ms: number) => Promise<void>) | null
  close(): Promise<void>
}

/** Thrown where a database cannot be used as it is asked to; the message says why, and holds no secret. */
export class DatabaseFault extends Error {}

/** What a driver says that a database refused, as a fault: the message of the engine, which holds nothing of an address. */
export function asFault(error: unknown): never {
  throw error instanceof DatabaseFault ? error : new DatabaseFault((error as Error).message)
}

/** Runs statements in one transaction that all see the rows as they are when the first of them begins: all of it stays, or nothing. */
export function atOneMoment<Done>(database: Database, work: () => Promise<Done>): Promise<Done> {
  return inTransaction(database, work, database.dialect.beginAtOneMoment)
}

/** The same for queries, which change nothing. */
export function readAtOneMoment<Found>(database: Database, ask: () => Promise<Found>): Promise<Found> {
  return inTransaction(database, ask, database.dialect.beginReading)
}

/**
 * Runs work in one transaction: all of what it does stays, or nothing.
 *
 * @throws what the work throws, when everything is as it was
 */
async function inTransaction<Done>(database: Database, work: () => Promise<Done>, begin: string): Promise<Done> {
  await database.run(begin)
  let done: Done
  try {
    done = await work()
  } catch (error) {
    await database.run('rollback').catch(() => undefined)
    throw error
  }
  await database.run('commit')
  return done
}
