import type { Database } from '../databases/index.js'

/** Makes a table that is there while a refresh is at work. */
export async function makeTemporary(database: Database, name: string, select: string): Promise<void> {
  await database.run(`create temporary table ${name} as ${select}`)
  await countedAnew(database, name)
}

/** Lets an engine that has a choice of ways know how few rows a table has. */
export async function countedAnew(database: Database, name: string): Promise<void> {
  if (database.dialect.hasIndexes) await database.run(`analyze ${name}`)
}

/** How many rows there are. */
export async function countOf(database: Database, from: string): Promise<number> {
  const [row] = await database.rows(`select count(*) as n from ${from}`)
  return Number(row?.n)
}
