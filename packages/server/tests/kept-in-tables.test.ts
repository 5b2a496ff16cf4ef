import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { PGlite } from '@electric-sql/pglite'
import { BOOK_TABLES, BookFile, type BookTable, fillBookFile, type WrittenRow } from '@mellow-abacus/files'
import fc from 'fast-check'
import type { Operation } from 'mellow-abacus'
import type pg from 'pg'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { appending } from '../src/store/postgresql/appending.js'
import { keptRows } from '../src/store/postgresql/kept-rows.js'
import { migrate, SCHEMA } from '../src/store/postgresql/migrations.js'

/**
 * What a workbook file writes is kept row by row in tables of PostgreSQL, embedded here: the tables have what the file has, and
 * a file that is filled from them is the same workbook. Raise the number of histories with RUNS=200.
 */
let database: PGlite
let pool: pg.Pool
let folder: string
beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'kept-'))
  database = await PGlite.create()
  // It has one connection, which is asked as a pool or a client is.
  const client = {
    query: async (text: string, values?: unknown[]) =>
      values === undefined || values.length === 0
        ? ((await database.exec(text)).at(-1) ?? { rows: [] })
        : database.query(text, values),
    release: () => undefined,
  }
  pool = { ...client, connect: async () => client } as unknown as pg.Pool
  await migrate(pool)
  await migrate(pool)
}, 60_000)
afterAll(async () => {
  await database.close()
  rmSync(folder, { recursive: true, force: true })
})

const BEGIN: readonly Operation[] = [
  {
    op: 'add-table',
    table: 'hives',
    columns: [
      { name: 'code', type: 'text' },
      { name: 'kg', type: 'number' },
    ],
  },
]

/** Something that is done to a workbook file: operations, steps that are turned, answers that are kept, and its being closed. */
type Deed = (file: BookFile) => void
const trying =
  (deed: Deed): Deed =>
  (file) => {
    try {
      deed(file)
    } catch (error) {
      if ((error as Error).name !== 'Refusal') throw error
    }
  }
const word = fc.constantFrom('', 'Ünion', "it's", '🐝', 'a\\b', '\u0001')
const column = fc.constantFrom('code', 'kg', 'more')
const deed: fc.Arbitrary<Deed> = fc.oneof(
  fc
    .array(fc.record({ code: word, kg: fc.double({ noNaN: true, noDefaultInfinity: true }) }), { maxLength: 4 })
    .map((rows) => trying((file) => file.apply({ op: 'insert-rows', table: 'hives', rows }, { author: 'Ada' }))),
  fc.integer({ min: 1, max: 300 }).map((count) =>
    trying((file) =>
      file.apply({
        op: 'insert-rows',
        table: 'hives',
        block: {
          code: Array.from({ length: count }, (_, at) => `H${at}`),
          kg: Float64Array.from({ length: count }, (_, at) => at / 7),
        },
      } as unknown as Operation),
    ),
  ),
  fc
    .tuple(fc.integer({ min: 1, max: 4 }), word)
    .map(([row, value]) =>
      trying((file) => file.apply({ op: 'set-cells', table: 'hives', cells: [{ row, column: 'code', value }] })),
    ),
  column.map((name) => trying((file) => file.apply({ op: 'remove-column', table: 'hives', column: name }))),
  fc
    .constantFrom('text', 'number')
    .map((type) =>
      trying((file) => file.apply({ op: 'add-column', table: 'hives', column: { name: 'more', type } } as Operation)),
    ),
  column.map((name) =>
    trying((file) => file.apply({ op: 'change-column', table: 'hives', column: name, set: { type: 'text' } } as Operation)),
  ),
  fc.constant<Deed>((file) => void file.undo()),
  fc.constant<Deed>((file) => void file.redo()),
  fc.tuple(fc.constantFrom('k1', 'k2'), fc.integer({ min: 0, max: 400 })).map(
    ([key, at]): Deed =>
      (file) => {
        file.keepAnswer(key, { fingerprint: 'f', seen: '', at, answer: '"\\u0000"' }, 150)
      },
  ),
)

const textOf = (row: readonly unknown[]): string =>
  JSON.stringify(
    row.map((value) =>
      value instanceof Uint8Array ? Buffer.from(value).toString('hex') : value === null ? null : String(value),
    ),
  )

type Tables = Record<string, string[]>
const none = (): Tables => Object.fromEntries(Object.keys(BOOK_TABLES).map((table) => [table, []]))

function tablesOf(rows: Iterable<WrittenRow>): Tables {
  const tables = none()
  for (const one of rows) if ('row' in one) tables[one.table]?.push(textOf(one.row))
  for (const all of Object.values(tables)) all.sort()
  return tables
}

async function tablesKept(book: number): Promise<Tables> {
  const tables = none()
  for (const [table, { columns }] of Object.entries(BOOK_TABLES) as [BookTable, { columns: readonly string[] }][]) {
    const { rows } = await database.query<Record<string, unknown>>(
      `select ${columns.join(', ')} from ${SCHEMA}.${table} where book = $1`,
      [book],
    )
    tables[table] = rows.map((row) => textOf(columns.map((name) => row[name]))).sort()
  }
  return tables
}

async function keep(book: number, written: readonly WrittenRow[]): Promise<void> {
  for (const { text, values } of appending(written, { book, may: 'select 1', parameters: [] }))
    await database.query(text, [...values])
}

/** All rows that a workbook shows. */
function shown({ book }: BookFile): unknown {
  return book.tables.map((name) => {
    const table = book.table(name)
    return table.rowIds().map((id) => table.columns.map((column) => [column.name, column.value(id)]))
  })
}

test('the tables have what the file has, and a file filled from them is the same workbook', async () => {
  let book = 0
  const history = fc.array(fc.array(deed, { minLength: 1, maxLength: 6 }), { minLength: 1, maxLength: 4 })
  await fc.assert(
    fc.asyncProperty(history, async (openings) => {
      const made = ++book
      await database.query(`insert into ${SCHEMA}.books (name) values ($1)`, [`book-${made}`])
      const path = join(folder, `${made}.mellow`)
      const first = BookFile.create(path, { now: '2026-06-30' })
      first.apply(BEGIN)
      await keep(made, [...first.rows()])
      first.close()
      await database.query(`delete from ${SCHEMA}.snapshot where book = $1`, [made])
      await database.query(`delete from ${SCHEMA}.chunks where book = $1`, [made])
      const again = BookFile.open(path)
      await keep(
        made,
        [...again.rows()].filter(({ table }) => table === 'snapshot' || table === 'chunks'),
      )
      again.close()
      for (const deeds of openings) {
        const written: WrittenRow[][] = []
        const file = BookFile.open(path, { writes: true, keeper: (rows) => void written.push([...rows]) })
        for (const one of deeds) one(file)
        file.stage()
        for (const one of deeds) one(file)
        file.commit()
        file.close()
        for (const rows of written) await keep(made, rows)
        const read = BookFile.open(path)
        expect(await tablesKept(made)).toEqual(tablesOf(read.rows()))
        read.close()
      }
      const copy = join(folder, `${made}-copy.mellow`)
      await fillBookFile(copy, keptRows(pool, made))
      const [one, other] = [BookFile.open(path), BookFile.open(copy)]
      expect(tablesOf(other.rows())).toEqual(tablesOf(one.rows()))
      expect(shown(other)).toEqual(shown(one))
      one.close()
      other.close()
    }),
    { numRuns: Number(process.env.RUNS ?? 15) },
  )
}, 600_000)

test('what cannot be kept has not happened', () => {
  const path = join(folder, 'refused.mellow')
  BookFile.create(path).close()
  let isKept = true
  const keeper = (): void => {
    if (!isKept) throw new Error('no')
  }
  const file = BookFile.open(path, { writes: true, keeper })
  file.apply(BEGIN)
  isKept = false
  expect(() => file.apply({ op: 'remove-table', table: 'hives' })).toThrow('cannot be written')
  expect(file.book.tables).toEqual(['hives'])
  isKept = true
  file.apply({ op: 'insert-rows', table: 'hives', rows: [{ kg: 1 }] })
  file.close()
  const read = BookFile.open(path)
  expect([...read.journal()].map(({ revision }) => revision)).toEqual([1, 2])
  read.close()
})
