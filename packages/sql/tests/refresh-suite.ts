import { type Database, openDatabase, PublishRefusal, publish, type Refreshed, refresh } from '@mellow-abacus/sql'
import { type OperationJson, Workbook } from 'mellow-abacus'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { attachIn } from './helpers/attached-book.js'
import { rowsOf } from './helpers/rows-of.js'

/** Three hives of two apiaries, and what was harvested of them. */
const BEES = [
  'drop schema if exists mellow cascade',
  'drop schema if exists bees cascade',
  'create schema bees',
  'create table bees.hives (tag text primary key, frames integer, apiary text)',
  "insert into bees.hives values ('T-1', 10, 'mill'), ('T-2', 8, 'mill'), ('T-3', 8, 'hill')",
  'create table bees.harvests (id bigint primary key, hive text, kg double precision, changed_at timestamp)',
  `insert into bees.harvests values ${[1, 2, 3, 4, 5, 6].map((n) => `(${n}, 'T-${1 + (n % 3)}', ${n}, timestamp '2026-07-01 10:00:00')`).join(', ')}`,
]

const FORMULAS: OperationJson[] = [
  { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
  ...Object.entries({
    twice: 'kg * 2',
    per_frame: 'kg / hive.frames',
    share: 'kg per sum(kg by hive)',
    before: 'lag(kg by hive)',
  }).map(([name, formula]): OperationJson => ({ op: 'add-column', table: 'harvests', column: { name, formula } })),
  { op: 'add-column', table: 'harvests', column: { name: 'is_large', formula: 'twice > 6' } },
  { op: 'add-column', table: 'harvests', column: { name: 'large', formula: 'count(where is_large by hive)' } },
  { op: 'add-column', table: 'hives', column: { name: 'honey', formula: 'sum(harvests.kg)' } },
  { op: 'set-tally', table: 'harvests', name: 'heaviest', formula: 'max(kg)' },
  { op: 'add-column', table: 'harvests', column: { name: 'of_most', formula: 'kg / heaviest' } },
]

const KEPT = ['twice', 'per_frame', 'share', 'before', 'large', 'of_most'].map((name) => `harvests.${name}`)

async function attached(database: Database, more: readonly OperationJson[] = []): Promise<Workbook> {
  const book = new Workbook()
  await attachIn(book, 'hives', database, ['bees', 'hives'])
  await attachIn(book, 'harvests', database, ['bees', 'harvests'])
  book.applyJson([...FORMULAS, ...more])
  return book
}

/** Columns by how many rows were calculated and how many of them changed; those of which none were are left out. */
const counted = ({ columns }: Refreshed): Record<string, [number, number]> =>
  Object.fromEntries(
    columns.flatMap(({ address, calculated, changed }) => (calculated === 0 ? [] : [[address, [calculated, changed]]])),
  )

/** What holds of refreshing what is kept. */
export function describeRefreshing(title: string, addressOf: () => string): void {
  describe(`what is kept on ${title}`, () => {
    let database: Database
    let book: Workbook
    const hasTriggers = title === 'PostgreSQL'
    beforeEach(async () => {
      database = await openDatabase(addressOf())
      for (const statement of BEES) await database.run(statement)
      book = await attached(database)
    })
    afterEach(() => database.close())

    const publishing = (more: object = {}): ReturnType<typeof publish> =>
      publish(book, database, { book: 'coop', kept: [...KEPT, 'hives.honey'], ...more })
    const refreshing = (): Promise<Refreshed> => refresh(book, database, { book: 'coop' })
    const harvests = (): Promise<object[]> =>
      rowsOf(database, 'select id, twice, per_frame, share, before, large, of_most from mellow.harvests order by id')
    /** What is shown is what would be, were everything published anew. */
    const expectAsAnew = async (): Promise<void> => {
      const [rows, hives] = [await harvests(), await rowsOf(database, 'select tag, honey from mellow.hives order by tag')]
      await publish(book, database, { book: 'coop' })
      expect([rows, hives]).toEqual([
        await harvests(),
        await rowsOf(database, 'select tag, honey from mellow.hives order by tag'),
      ])
    }

    test('what is asked for is kept, with what it reads; views show it as it was until it is refreshed', async () => {
      const { kept, steps } = await publishing()
      expect([...kept].sort()).toEqual(
        [...KEPT, 'harvests.is_large', 'hives.honey', 'harvests.heaviest']
          .map((one) => one.replace('harvests.heaviest', 'harvests.heaviest'))
          .sort(),
      )
      expect(
        steps
          .filter(({ kind }) => kind === 'table')
          .map(({ name }) => name)
          .sort(),
      ).toEqual(['book!kept', 'harvests!kept', 'hives!kept', 'kept!'])
      await database.run('update bees.harvests set kg = 10 where id = 1')
      const shown = 'select kg, twice, is_large from mellow.harvests where id = 1'
      expect(await rowsOf(database, shown)).toEqual([{ kg: 10, twice: 2, is_large: false }])
      await refreshing()
      expect(await rowsOf(database, shown)).toEqual([{ kg: 10, twice: 20, is_large: true }])
      await expectAsAnew()
    })

    test.each<[string, string, object]>([
      ['nothing', "update bees.harvests set changed_at = timestamp '2026-07-02 10:00:00' where id = 1", {}],
      [
        'a row by itself, those of its group, and the hive that it is of',
        'update bees.harvests set kg = 2.5 where id = 1',
        {
          'harvests.twice': [1, 1],
          'harvests.is_large': [1, 0],
          'harvests.per_frame': [1, 1],
          'harvests.share': [2, 2],
          'harvests.before': [2, 1],
          'hives.honey': [1, 1],
          'harvests.heaviest': [1, 0],
          'harvests.of_most': [1, 1],
        },
      ],
      [
        'rows that lead to one that changed',
        "update bees.hives set frames = 5 where tag = 'T-2'",
        { 'harvests.per_frame': [2, 2] },
      ],
      ['nothing where what was changed is not read', "update bees.hives set apiary = 'hill' where tag = 'T-2'", {}],
      [
        'all rows where the greatest of all has changed',
        'update bees.harvests set kg = 12 where id = 6',
        {
          'harvests.twice': [1, 1],
          'harvests.is_large': [1, 0],
          'harvests.per_frame': [1, 1],
          'harvests.share': [2, 2],
          'harvests.before': [2, 0],
          'hives.honey': [1, 1],
          'harvests.heaviest': [1, 1],
          'harvests.of_most': [6, 5],
        },
      ],
      [
        'the groups and hives that a row has left and come to',
        "update bees.harvests set hive = 'T-1' where id = 4",
        {
          'harvests.per_frame': [1, 1],
          'harvests.share': [4, 4],
          'harvests.before': [4, 2],
          'harvests.large': [4, 4],
          'hives.honey': [2, 2],
        },
      ],
      [
        'the group and the hive of a row that is gone',
        'delete from bees.harvests where id = 4',
        {
          'harvests.share': [1, 1],
          'harvests.before': [1, 0],
          'harvests.large': [1, 1],
          'hives.honey': [1, 1],
          'harvests.heaviest': [1, 0],
        },
      ],
    ])('is calculated again for %s', async (_, statement, expected) => {
      await publishing()
      await database.run(statement)
      expect(counted(await refreshing())).toEqual(expected)
      expect(counted(await refreshing())).toEqual({})
      await expectAsAnew()
    })

    test('rows that come are calculated, and change those of their group', async () => {
      await publishing()
      await database.run("insert into bees.harvests values (7, 'T-2', 3, null), (8, 'T-9', 1, null)")
      await database.run("insert into bees.hives values ('T-9', 0, null)")
      const { sources, columns } = await refreshing()
      expect(sources).toEqual([
        { table: 'hives', added: 1, changed: 0, gone: 0 },
        { table: 'harvests', added: 2, changed: 0, gone: 0 },
      ])
      expect(counted({ columns } as Refreshed)).toMatchObject({ 'harvests.share': [4, 4], 'hives.honey': [2, 2] })
      expect(await rowsOf(database, 'select "per_frame!fault" from mellow.harvests where id = 8')).toEqual([
        { 'per_frame!fault': 'division-by-zero' },
      ])
      await expectAsAnew()
    })

    test('rows are found by the column that says when they were changed, late ones and those of before too', async () => {
      await publishing({ since: 'changed_at' })
      await database.run("update bees.harvests set changed_at = timestamp '2026-07-15 09:00:00' where id = 1")
      await refreshing()
      await database.run("update bees.harvests set kg = 9, changed_at = timestamp '2026-08-01 09:00:00' where id = 2")
      // Not told of by the column: it is as if nothing had happened to it.
      await database.run('update bees.harvests set kg = 7 where id = 5')
      await database.run("update bees.harvests set changed_at = timestamp '2026-08-01 09:00:00' where id = 6")
      expect((await refreshing()).sources.at(-1)).toEqual({ table: 'harvests', added: 0, changed: 2, gone: 0 })
      expect(await rowsOf(database, 'select twice from mellow.harvests where id in (2, 5) order by id')).toEqual([
        { twice: 18 },
        { twice: 10 },
      ])
      // One that became visible later than others of the same minute.
      await database.run("insert into bees.harvests values (7, 'T-1', 3, timestamp '2026-08-01 08:55:00')")
      expect((await refreshing()).sources.at(-1)).toEqual({ table: 'harvests', added: 1, changed: 0, gone: 0 })
      // Where there are more rows or fewer than there should be, all are looked at.
      await database.run('delete from bees.harvests where id = 3')
      expect((await refreshing()).sources.at(-1)).toEqual({ table: 'harvests', added: 0, changed: 1, gone: 1 })
      await database.run("insert into bees.harvests values (8, 'T-1', 3, timestamp '2020-01-01 00:00:00')")
      expect((await refreshing()).sources.at(-1)).toEqual({ table: 'harvests', added: 1, changed: 0, gone: 0 })
      await expectAsAnew()
    })

    test('publishing again leaves what is kept as it is, unless what it is made of has changed', async () => {
      await publishing()
      expect((await publishing()).steps.every(({ what }) => what === 'kept')).toBe(true)
      await database.run('update bees.harvests set kg = 10 where id = 1')
      await publishing()
      expect(await rowsOf(database, 'select twice from mellow.harvests where id = 1')).toEqual([{ twice: 2 }])
      book.applyJson({ op: 'change-column', table: 'harvests', column: 'twice', set: { formula: 'kg + kg' } })
      await expect(refreshing()).rejects.toThrow('published by other formulas')
      await publishing()
      expect(await rowsOf(database, 'select twice from mellow.harvests where id = 1')).toEqual([{ twice: 20 }])
      await publishing({ kept: [] })
      await expect(refreshing()).rejects.toThrow('keeps no columns')
    })

    test('rows of the workbook that go along are read by what is kept, which is made anew with them', async () => {
      book.applyJson([
        {
          op: 'add-table',
          table: 'prices',
          columns: [
            { name: 'apiary', type: 'text' },
            { name: 'price', type: 'number' },
          ],
        },
        {
          op: 'insert-rows',
          table: 'prices',
          rows: [
            { apiary: 'mill', price: 2 },
            { apiary: 'hill', price: 3 },
          ],
        },
        { op: 'add-link', table: 'hives', columns: ['apiary'], to: 'prices', keys: ['apiary'] },
        { op: 'add-column', table: 'harvests', column: { name: 'worth', formula: 'kg * hive.apiary.price' } },
      ])
      const kept = { kept: ['harvests.worth'] }
      const worth = (): Promise<object[]> => rowsOf(database, 'select sum(worth) as worth from mellow.harvests')
      await publishing(kept)
      expect(await worth()).toEqual([{ worth: 49 }])
      await database.run("update bees.hives set apiary = 'hill'")
      await refreshing()
      expect(await worth()).toEqual([{ worth: 63 }])
      book.applyJson({ op: 'set-cells', table: 'prices', cells: [{ row: 2, column: 'price', value: 1 }] })
      await expect(refreshing()).rejects.toThrow('publish')
      await publishing(kept)
      expect(await worth()).toEqual([{ worth: 21 }])
    })

    test.each<[string, object, string]>([
      ['another workbook', { book: 'other' }, 'holds the model of coop'],
      ['a schema that is not there', { schema: 'none' }, 'keeps no columns'],
    ])('%s is refused', async (_, more, reason) => {
      await publishing()
      await expect(refresh(book, database, { book: 'coop', ...more })).rejects.toThrow(reason)
    })

    test.each<[string, object, string]>([
      ['a column that is none', { kept: ['harvests.wings'] }, 'harvests.wings is no formula'],
      ['a column of the source', { kept: ['harvests.kg'] }, 'harvests.kg is no formula'],
      ['a column that is left out', { kept: ['harvests.twice'], leaveOut: ['harvests.twice'] }, 'left out cannot be kept'],
      ['a time that no source has', { since: 'seen_at' }, 'no source has a column seen_at'],
    ])('%s cannot be kept', async (_, more, reason) => {
      const error = await publishing(more).catch((one: unknown) => one)
      expect(error).toBeInstanceOf(PublishRefusal)
      expect((error as Error).message).toContain(reason)
    })

    test('a refresh that is cut off leaves everything as it was', async () => {
      await publishing()
      await database.run('update bees.harvests set kg = 10 where id = 1')
      const before = await harvests()
      // At each statement on a server; in one file at every third, which takes a second each.
      for (let at = 0; ; at += hasTriggers ? 1 : 3) {
        let ran = 0
        const cut: Database = {
          ...database,
          run: async (statement) => {
            if (ran++ === at) throw new Error('cut off')
            await database.run(statement)
          },
        }
        const done = await refresh(book, cut, { book: 'coop' }).then(
          () => true,
          () => false,
        )
        await database.run('rollback').catch(() => undefined)
        if (done) break
        expect(await harvests()).toEqual(before)
        expect(at).toBeLessThan(400)
      }
      await expectAsAnew()
    })

    test.each<[string, string, string]>([
      ['that share a key', 'insert into bees.swarms values (1, 3)', 'another row has too'],
      ['without a key', 'insert into bees.swarms values (null, 3)', 'without a value of the key'],
      ['with a number that is too large', 'insert into bees.swarms values (3, 9007199254740993)', 'no number for'],
    ])('rows %s are refused, and nothing is refreshed', async (_, statement, reason) => {
      await database.run('create table bees.swarms (id integer, bees bigint); insert into bees.swarms values (1, 900), (2, 1200)')
      await attachIn(book, 'swarms', database, ['bees', 'swarms'], ['id'])
      book.applyJson({ op: 'add-column', table: 'swarms', column: { name: 'pairs', formula: 'bees / 2' } })
      await publishing({ kept: ['swarms.pairs'] })
      await database.run(`update bees.swarms set bees = 1000 where id = 1; ${statement}`)
      await expect(refreshing()).rejects.toThrow(reason)
      expect(await rowsOf(database, 'select pairs from mellow."swarms!kept" order by pairs')).toEqual([
        { pairs: 450 },
        { pairs: 600 },
      ])
    })

    test('names that would be cut off while a refresh is at work are refused', async () => {
      const name = 'n'.repeat(55)
      book.applyJson({ op: 'add-column', table: 'harvests', column: { name, formula: 'kg + 1' } })
      if (hasTriggers) await expect(publishing({ kept: [`harvests.${name}`] })).rejects.toThrow('too long to be kept')
      else await publishing({ kept: [`harvests.${name}`] })
    })

    test('a column of a source that is gone, or called otherwise, is refused', async () => {
      await publishing()
      await database.run('update bees.harvests set kg = 10 where id = 1')
      await database.run("update bees.hives set frames = 7 where tag = 'T-1'")
      await database.run('alter table bees.harvests rename column kg to weight')
      await expect(refreshing()).rejects.toThrow('no column kg any more')
      await database.run('alter table bees.harvests rename column weight to kg')
      await refreshing()
      await expectAsAnew()
    })

    if (!hasTriggers) {
      test('an engine without triggers says so', async () => {
        await expect(publishing({ triggers: true })).rejects.toThrow('has no triggers')
      })
      return
    }

    test('triggers note which rows change, and are taken away again', async () => {
      const { steps } = await publishing({ triggers: true })
      expect(steps.filter(({ kind }) => kind === 'trigger').length).toBe(8)
      // What was there before the triggers were is looked at once.
      await refreshing()
      await database.run('update bees.harvests set kg = 2.5 where id = 1')
      await database.run("insert into bees.harvests values (7, 'T-1', 3, null)")
      await database.run('delete from bees.harvests where id = 4')
      await database.run('update bees.harvests set id = 9 where id = 5')
      expect((await refreshing()).sources.at(-1)).toEqual({ table: 'harvests', added: 2, changed: 1, gone: 2 })
      expect(await rowsOf(database, 'select count(*) as n from mellow."harvests!noted"')).toEqual([{ n: 0 }])
      await database.run('truncate bees.harvests')
      expect((await refreshing()).sources.at(-1)).toEqual({ table: 'harvests', added: 0, changed: 0, gone: 6 })
      await database.run("insert into bees.harvests values (1, 'T-1', 3, null)")
      await refreshing()
      await expectAsAnew()
      expect(await rowsOf(database, 'select tgname from pg_trigger where not tgisinternal')).toEqual([])
    })

    test.each<[string, string]>([
      ['are put out of work', 'alter table bees.harvests disable trigger user'],
      [
        'went with their table',
        'create table bees.others as table bees.harvests; drop table bees.harvests cascade; alter table bees.others rename to harvests; alter table bees.harvests add primary key (id)',
      ],
    ])('triggers that %s are told of, and made again', async (_, statement) => {
      await publishing({ triggers: true })
      await refreshing()
      await database.run(statement)
      await database.run('update bees.harvests set kg = 2.5 where id = 1')
      await expect(refreshing()).rejects.toThrow('is not at work any more')
      await publishing({ triggers: true })
      await refreshing()
      await database.run('update bees.harvests set kg = 3.5 where id = 2')
      expect((await refreshing()).sources.at(-1)).toEqual({ table: 'harvests', added: 0, changed: 1, gone: 0 })
      await expectAsAnew()
    })

    test('a view has no triggers, and is refused', async () => {
      await database.run(
        'drop table bees.harvests; create view bees.harvests as select 1::bigint as id, $$T-1$$ as hive, 2::float8 as kg',
      )
      await expect(publishing({ triggers: true })).rejects.toThrow(PublishRefusal)
    })
  })
}
