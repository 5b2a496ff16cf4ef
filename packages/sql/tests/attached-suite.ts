import { type Database, openDatabase, PublishRefusal, publish } from '@mellow-abacus/sql'
import { Workbook } from 'mellow-abacus'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { attachIn } from './helpers/attached-book.js'
import { rowsOf } from './helpers/rows-of.js'

/** A database of the co-operative: hives and what was harvested of them, in a schema of its own. */
const BEES = [
  'drop schema if exists mellow cascade',
  'drop schema if exists bees cascade',
  'create schema bees',
  'create table bees.hives (tag text primary key, frames integer)',
  "insert into bees.hives values ('T-1', 10), ('T-2', 0), ('T-3', 8)",
  'create table bees.harvests (id bigint primary key, hive text not null, kg numeric(6,1), taken date not null)',
  "insert into bees.harvests values (1, 'T-1', 12.5, '2026-07-01'), (2, 'T-1', 8, '2026-08-01'), (3, 'T-2', null, '2026-08-02')",
]

/** A workbook whose tables are attached to that database. */
async function attached(database: Database): Promise<Workbook> {
  const book = new Workbook()
  await attachIn(book, 'hives', database, ['bees', 'hives'])
  await attachIn(book, 'harvests', database, ['bees', 'harvests'])
  book.applyJson([
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
    { op: 'add-column', table: 'harvests', column: { name: 'per_frame', formula: 'kg / hive.frames' } },
    { op: 'add-column', table: 'harvests', column: { name: 'before', formula: 'lag(kg)' } },
    { op: 'add-column', table: 'hives', column: { name: 'honey', formula: 'sum(harvests.kg)' } },
  ])
  return book
}

const publishing = (book: Workbook, database: Database, more: object = {}): ReturnType<typeof publish> =>
  publish(book, database, { book: 'coop', ...more })

/** What holds of publishing where the rows are in the database already. */
export function describeAttached(title: string, addressOf: () => string): void {
  describe(`tables attached to ${title}`, () => {
    let database: Database
    let book: Workbook
    beforeEach(async () => {
      database = await openDatabase(addressOf())
      for (const statement of BEES) await database.run(statement)
      book = await attached(database)
    })
    afterEach(() => database.close())

    const refusal = async (more: object = {}): Promise<string> => {
      const error = await publishing(book, database, more).catch((reason: unknown) => reason)
      expect(error).toBeInstanceOf(PublishRefusal)
      expect(await rowsOf(database, "select 1 as one from information_schema.schemata where schema_name = 'mellow'")).toEqual([])
      return (error as Error).message
    }

    test('formulas run over all rows, where they are, and over those that come', async () => {
      const { steps } = await publishing(book, database)
      expect(steps.map(({ kind, name }) => `${kind} ${name}`)).toEqual(['view hives', 'view harvests'])
      await database.run("insert into bees.harvests values (4, 'T-3', 4, '2026-08-03')")
      const query = 'select id, kg, per_frame, "per_frame!fault", before from mellow.harvests order by id'
      expect(await rowsOf(database, query)).toEqual([
        { id: 1, kg: 12.5, per_frame: 1.25, 'per_frame!fault': null, before: null },
        { id: 2, kg: 8, per_frame: 0.8, 'per_frame!fault': null, before: 12.5 },
        { id: 3, kg: null, per_frame: null, 'per_frame!fault': null, before: 8 },
        { id: 4, kg: 4, per_frame: 0.5, 'per_frame!fault': null, before: null },
      ])
      expect(await rowsOf(database, 'select tag, honey from mellow.hives order by tag')).toEqual([
        { tag: 'T-1', honey: 20.5 },
        { tag: 'T-2', honey: null },
        { tag: 'T-3', honey: 4 },
      ])
      expect((await publishing(book, database)).steps.every(({ what }) => what === 'kept')).toBe(true)
    })

    test('a column keeps the name that it was given, and its table in the database the one it has', async () => {
      book.applyJson([
        { op: 'rename-column', table: 'harvests', column: 'kg', to: 'honey_kg' },
        { op: 'rename-table', table: 'harvests', to: 'takes' },
      ])
      await publishing(book, database)
      expect(await rowsOf(database, 'select honey_kg, per_frame from mellow.takes where id = 1')).toEqual([
        { honey_kg: 12.5, per_frame: 1.25 },
      ])
    })

    test('a column that is gone there is refused, with what to do', async () => {
      await database.run('alter table bees.harvests drop column kg')
      expect(await refusal()).toContain('harvests.kg\n    bees.harvests has no column kg any more; attach the table again')
    })

    test('a column that has another type there is refused, and one that is wider is read as it is now', async () => {
      await database.run('alter table bees.harvests alter column kg type text')
      expect(await refusal()).toMatch(/bees\.harvests has kg as (text|VARCHAR), which was \S+, and the workbook as number/)
      await database.run(`alter table bees.harvests alter column kg type numeric(9,2) using cast(kg as numeric(9,2))`)
      await publishing(book, database)
      expect(await rowsOf(database, 'select kg from mellow.harvests where id = 1')).toEqual([{ kg: 12.5 }])
    })

    test('a table that is gone, and one that is attached elsewhere, are refused', async () => {
      await database.run('drop table bees.harvests')
      expect(await refusal()).toContain('has no table or view bees.harvests')
      const kept = book.table('hives').properties.source as object
      book.applyJson({ op: 'change-table', table: 'hives', set: { source: { ...kept, database: 'duckdb:/elsewhere.db' } } })
      expect(await refusal()).toContain(
        'hives is attached to duckdb:/elsewhere.db, and a model is published where its sources are',
      )
    })

    test('a key that has come to be shared, and numbers that have grown too large, are refused', async () => {
      await database.run('create view bees.seen as select * from bees.harvests')
      const seen = new Workbook()
      await attachIn(seen, 'seen', database, ['bees', 'seen'], ['taken'])
      await database.run("insert into bees.harvests values (5, 'T-1', 1, '2026-07-01')")
      await expect(publishing(seen, database)).rejects.toThrow('2 rows whose key taken another row has too')
      await database.run("insert into bees.harvests values (9007199254740993, 'T-1', 1, '2026-07-02')")
      expect(await refusal()).toContain('harvests: id has 1 value now that a workbook has no number for')
    })

    test('what was typed beside a sample is refused, and can be left out', async () => {
      book.applyJson([
        { op: 'add-column', table: 'hives', column: { name: 'note', type: 'text' } },
        { op: 'add-column', table: 'hives', column: { name: 'shown', formula: 'tag & note' } },
      ])
      expect(await refusal()).toContain('hives.note\n    its values were typed in the workbook, beside a sample of bees.hives')
      const { leftOut } = await publishing(book, database, { leaveOut: ['hives.note'] })
      expect(leftOut).toEqual(['hives.note', 'hives.shown'])
    })

    test('without a key there is no order, and what needs one is refused', async () => {
      book.applyJson({ op: 'change-table', table: 'harvests', set: { key: null } })
      expect(await refusal()).toContain('harvests.before = lag(kg)\n    harvests has no key, so its rows have no order')
    })

    test('beside attached tables the rows of others are copied', async () => {
      book.applyJson([
        {
          op: 'add-table',
          table: 'prices',
          columns: [
            { name: 'year', type: 'integer' },
            { name: 'price', type: 'number' },
          ],
        },
        { op: 'insert-rows', table: 'prices', rows: [{ year: 2026, price: 9.5 }] },
        { op: 'set-tally', table: 'prices', name: 'latest', formula: 'max(price)' },
        { op: 'add-column', table: 'harvests', column: { name: 'worth', formula: 'kg * prices.latest' } },
      ])
      await publishing(book, database)
      expect(await rowsOf(database, 'select worth from mellow.harvests where id = 2')).toEqual([{ worth: 76 }])
    })
  })
}
