import { BOOK_TABLES, type BookTable, type RowValue, type WrittenRow } from '@mellow-abacus/files'
import type pg from 'pg'
import { ask } from './connection.js'
import { SCHEMA } from './migrations.js'

/** Rows that are read at once, by how large they may be. */
const AT_ONCE: Readonly<Record<BookTable, number>> = { snapshot: 1, journal: 500, payloads: 500, chunks: 50, answers: 100 }

/** All rows of a workbook, a few at a time. */
export async function* keptRows(pool: pg.Pool, book: number): AsyncGenerator<readonly WrittenRow[]> {
  for (const table of Object.keys(BOOK_TABLES) as BookTable[]) yield* rowsOf(pool, book, table)
}

async function* rowsOf(pool: pg.Pool, book: number, table: BookTable): AsyncGenerator<readonly WrittenRow[]> {
  const { columns, key }: { readonly columns: readonly string[]; readonly key: readonly string[] } = BOOK_TABLES[table]
  const names = key.join(', ')
  const select = `select ${columns.join(', ')} from ${SCHEMA}.${table} where book = $1`
  const order = `order by ${names} limit ${AT_ONCE[table]}`
  let last: readonly RowValue[] | null = null
  for (;;) {
    const after = last === null ? '' : ` and (${names}) > (${key.map((_, index) => `$${index + 2}`).join(', ')})`
    const rows: readonly Record<string, RowValue>[] = await ask(pool, `${select}${after} ${order}`, [book, ...(last ?? [])])
    yield rows.map((row) => ({ table, row: columns.map((column) => row[column] ?? null) }))
    const end = rows.at(-1)
    if (end === undefined || rows.length < AT_ONCE[table]) return
    last = key.map((column) => end[column] ?? null)
  }
}
