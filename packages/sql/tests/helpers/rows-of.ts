import type { Database } from '@mellow-abacus/sql'

/** Rows of a query as plain objects. */
export async function rowsOf(database: Database, query: string): Promise<object[]> {
  return (await database.rows(query)).map((row) => ({ ...row }))
}
