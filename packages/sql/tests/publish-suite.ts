import { type Database, openDatabase, PublishRefusal, publish } from '@mellow-abacus/sql'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { coop } from './helpers/coop.js'
import { rowsOf } from './helpers/rows-of.js'

/** What a publishing says that it did. */
async function published(database: Database, book = coop(), more: object = {}): Promise<string[]> {
  const { steps } = await publish(book, database, { book: 'coop', ...more })
  return steps.filter(({ what }) => what !== 'kept').map(({ what, kind, name }) => `${what} ${kind} ${name}`)
}

/** What holds of publishing to any database. */
export function describePublishing(title: string, addressOf: () => string): void {
  describe(`publishing to ${title}`, () => {
    let database: Database
    beforeEach(async () => {
      database = await openDatabase(addressOf())
      await database.run('drop schema if exists mellow cascade; drop schema if exists other cascade')
    })
    afterEach(() => database.close())

    test('rows and formulas are there, blanks and errors too', async () => {
      await published(database)
      expect(
        await rowsOf(database, 'select hive, worth, "worth!fault", "per_frame!fault" from mellow.harvests order by hive, worth'),
      ).toEqual([
        { hive: 'T-1', worth: 76, 'worth!fault': null, 'per_frame!fault': null },
        { hive: 'T-1', worth: 118.75, 'worth!fault': null, 'per_frame!fault': null },
        { hive: 'T-2', worth: null, 'worth!fault': 'misfit', 'per_frame!fault': 'misfit' },
      ])
      expect(await rowsOf(database, 'select tag, takes from mellow.hives order by tag')).toEqual([
        { tag: 'T-1', takes: 2 },
        { tag: 'T-2', takes: 1 },
      ])
      expect(await rowsOf(database, 'select * from mellow."harvests!tallies"')).toEqual([{ most: 12.5 }])
      expect(await rowsOf(database, 'select hive, kg from mellow."little!violations"')).toEqual([{ hive: 'T-1', kg: 12.5 }])
      expect(await rowsOf(database, 'select * from mellow."book!values"')).toEqual([{ price: 9.5 }])
    })

    test('publishing again changes what has become different, and nothing else', async () => {
      await published(database)
      expect(await published(database)).toEqual([])
      const book = coop()
      book.applyJson({ op: 'change-column', table: 'harvests', column: 'worth', set: { formula: 'kg * price * 2' } })
      expect(await published(database, book)).toEqual(['changed view harvests', 'changed view little!violations'])
      book.applyJson({ op: 'remove-rule', table: 'harvests', name: 'little' })
      book.applyJson({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'frames', value: 11 }] })
      // Views stand on the tables, so that they are made anew with them.
      expect(await published(database, book)).toEqual([
        'removed view little!violations',
        'changed table hives!rows',
        ...['hives', 'harvests', 'harvests!tallies', 'book!values'].map((name) => `changed view ${name}`),
      ])
      expect(await rowsOf(database, 'select sum(worth) as worth from mellow.harvests')).toEqual([{ worth: 389.5 }])
    })

    test('a preview says what would be done, and does nothing', async () => {
      const { steps, statements } = await publish(coop(), database, { book: 'coop', preview: true })
      expect(steps.length).toBeGreaterThan(5)
      expect(statements[0]).toBe('create schema "mellow"')
      expect(await rowsOf(database, "select 1 as one from information_schema.schemata where schema_name = 'mellow'")).toEqual([])
    })

    test('a formula without a form is refused with its reason, and nothing is published', async () => {
      const book = coop()
      book.applyJson([
        { op: 'add-column', table: 'harvests', column: { name: 'chance', formula: 'random()' } },
        { op: 'add-column', table: 'harvests', column: { name: 'twice', formula: 'chance * 2' } },
      ])
      const refused = await publish(book, database, { book: 'coop' }).catch((error: unknown) => error)
      expect(refused).toBeInstanceOf(PublishRefusal)
      expect((refused as PublishRefusal).formulas).toEqual([
        { address: 'harvests.chance', formula: 'random()', reason: expect.stringContaining('rows of the workbook') },
      ])
      const { leftOut } = await publish(book, database, { book: 'coop', leaveOut: ['harvests.chance'] })
      expect(leftOut).toEqual(['harvests.chance', 'harvests.twice'])
      await expect(publish(book, database, { book: 'coop', leaveOut: ['harvests.kg'] })).rejects.toThrow('is no formula')
    })

    test('a name that is too long is refused, and not cut off', async () => {
      const book = coop()
      book.applyJson({ op: 'add-column', table: 'harvests', column: { name: 'n'.repeat(60), formula: 'kg' } })
      const made = publish(book, database, { book: 'coop' })
      if (database.dialect.name === 'postgresql') await expect(made).rejects.toThrow('cuts names off after 63 bytes')
      else expect((await made).steps.length).toBeGreaterThan(5)
    })

    test('a schema of someone else is left alone, and so is the model of another workbook', async () => {
      await database.run('create schema mellow; create table mellow.theirs (a int)')
      await expect(published(database)).rejects.toThrow('is there already and is not one that a workbook was published to')
      expect(await rowsOf(database, 'select count(*) as n from mellow.theirs')).toEqual([{ n: 0 }])
      await published(database, coop(), { schema: 'other' })
      const of = { book: 'another', schema: 'other' }
      await expect(publish(coop(), database, of)).rejects.toThrow('holds the model of coop')
      await publish(coop(), database, { ...of, replaces: true })
      await expect(publish(coop(), database, { book: 'coop', schema: 'other' })).rejects.toThrow('holds the model of another')
    })

    test('what others have put into the schema stays; a name of theirs is not taken', async () => {
      await published(database)
      await database.run('create table mellow.theirs (a int)')
      const book = coop()
      book.applyJson({ op: 'rename-table', table: 'hives', to: 'boxes' })
      await published(database, book)
      expect(await rowsOf(database, 'select count(*) as n from mellow.theirs')).toEqual([{ n: 0 }])
      book.applyJson({ op: 'add-table', table: 'theirs', columns: [{ name: 'a', type: 'number' }] })
      await expect(published(database, book)).rejects.toThrow('of someone else')
    })

    test('a publishing that is cut off leaves everything as it was', async () => {
      await published(database)
      const before = await rowsOf(database, 'select * from mellow.harvests order by worth')
      const book = coop()
      book.applyJson({ op: 'change-column', table: 'harvests', column: 'worth', set: { formula: 'kg + 1' } })
      const { statements } = await publish(book, database, { book: 'coop', preview: true })
      for (let at = 0; at < statements.length; at++) {
        let count = 0
        const failing: Database = {
          ...database,
          run: async (statement) => {
            if (!/^(begin|commit|rollback)/.test(statement) && count++ === at) throw new Error('the line is down.')
            return database.run(statement)
          },
        }
        await expect(publish(book, failing, { book: 'coop' })).rejects.toThrow('Nothing was published')
        expect(await rowsOf(database, 'select * from mellow.harvests order by worth')).toEqual(before)
      }
    })
  })
}
