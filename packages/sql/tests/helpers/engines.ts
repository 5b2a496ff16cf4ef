import { type DuckDBConnection, DuckDBInstance } from '@duckdb/node-api'
import { PGlite } from '@electric-sql/pglite'
import type { EngineName } from '@mellow-abacus/sql'

/** An engine that statements are run on. */
export interface TestEngine {
  readonly name: EngineName
  run(statement: string): Promise<void>
  /** Rows of a query as plain values: dates as ISO text. */
  rows(query: string): Promise<Record<string, unknown>[]>
  close(): Promise<void>
}

const DAY = 86_400_000

const isoDay = (day: number): string => new Date(day * DAY).toISOString().slice(0, 10).replace('+0', '')

/** DuckDB in memory. */
export async function duckdb(): Promise<TestEngine> {
  const instance = await DuckDBInstance.create(':memory:', { threads: '2' })
  const connection: DuckDBConnection = await instance.connect()
  return {
    name: 'duckdb',
    run: async (statement) => {
      await connection.run(statement)
    },
    rows: async (query) => {
      const found = await connection.runAndReadAll(query)
      return found
        .getRowObjects()
        .map((row) => Object.fromEntries(Object.entries(row).map(([name, value]) => [name, plain(value)])))
    },
    close: async () => connection.closeSync(),
  }
}

function plain(value: unknown): unknown {
  if (typeof value === 'bigint') return Number(value)
  if (typeof value !== 'object' || value === null) return value
  if ('days' in value) return isoDay(Number(value.days))
  if ('micros' in value) return new Date(Number((value.micros as bigint) / 1000n)).toISOString().slice(0, -1)
  return value
}

/** A date-time as it is written, with its milliseconds. */
const isoTime = (text: string): string =>
  text
    .replace(' ', 'T')
    .concat(text.includes('.') ? '' : '.')
    .padEnd(23, '0')

/** PostgreSQL in this process. */
export async function pglite(): Promise<TestEngine> {
  const database = await PGlite.create()
  // Dates as they are written, and whole numbers as numbers.
  const parsers = { 20: Number, 1082: (text: string) => text, 1114: isoTime }
  return {
    name: 'postgresql',
    run: async (statement) => {
      await database.exec(statement)
    },
    rows: async (query) => (await database.query<Record<string, unknown>>(query, [], { parsers })).rows,
    close: () => database.close(),
  }
}
