import { type Database, openDatabase, PublishRefusal, publish } from '@mellow-abacus/sql'
import type { GroupedView, Workbook } from 'mellow-abacus'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { coop } from './helpers/coop.js'
import { rowsOf } from './helpers/rows-of.js'

/** The co-operative with more harvests, one of which has no hive, and a report of them. */
function withReport(report: Partial<GroupedView> = {}): Workbook {
  const book = coop()
  const view = {
    table: 'harvests',
    levels: [
      { key: 'hive.tag', name: 'of' },
      { key: "start_of(taken, 'month')", name: 'month' },
    ],
    tallies: [
      { name: 'kg', formula: 'sum(kg)' },
      { name: 'takes', formula: 'count()' },
    ],
    lines: [{ name: 'part', formula: 'takes per parent.takes' }],
    ...report,
  }
  book.applyJson([
    {
      op: 'insert-rows',
      table: 'harvests',
      rows: [
        { hive: 'T-1', kg: 4, taken: '2026-08-11' },
        { hive: null, kg: 2, taken: '2026-08-12' },
      ],
    },
    { op: 'set-report', name: 'by_hive', report: view },
  ] as never)
  return book
}

/** What holds of reports in any database. */
export function describeReports(title: string, addressOf: () => string): void {
  describe(`reports published to ${title}`, () => {
    let database: Database
    beforeEach(async () => {
      database = await openDatabase(addressOf())
      await database.run('drop schema if exists mellow cascade')
    })
    afterEach(() => database.close())
    const lines = (columns = '*') => rowsOf(database, `select ${columns} from mellow."by_hive!report"`)
    const published = (book: Workbook, more: object = {}) => publish(book, database, { book: 'coop', ...more })

    test('have a row for each line, in their order', async () => {
      await published(withReport())
      expect(await lines('level, "of", kg, "kg!fault", takes, part')).toEqual([
        { level: 1, of: 'T-1', kg: 24.5, 'kg!fault': null, takes: 3, part: 0.6 },
        { level: 2, of: 'T-1', kg: 12.5, 'kg!fault': null, takes: 1, part: 1 / 3 },
        { level: 2, of: 'T-1', kg: 12, 'kg!fault': null, takes: 2, part: 2 / 3 },
        { level: 1, of: 'T-2', kg: null, 'kg!fault': 'misfit', takes: 1, part: 0.2 },
        { level: 2, of: 'T-2', kg: null, 'kg!fault': 'misfit', takes: 1, part: 1 },
        { level: 1, of: null, kg: 2, 'kg!fault': null, takes: 1, part: 0.2 },
        { level: 2, of: null, kg: 2, 'kg!fault': null, takes: 1, part: 1 },
        { level: 0, of: null, kg: null, 'kg!fault': 'misfit', takes: 5, part: null },
      ])
    })

    test('are of the rows that they are of, in the order wanted, as many as wanted', async () => {
      const where = 'kg < limit'
      const parameters = [{ name: 'limit', type: 'number' as const, value: 10 }]
      await published(withReport({ where, parameters, order: [{ by: 'kg', descending: true }], limit: 1 }))
      expect(await lines('level, "of", kg')).toEqual([
        { level: 1, of: 'T-1', kg: 12 },
        { level: 2, of: 'T-1', kg: 12 },
        { level: 0, of: null, kg: 14 },
      ])
    })

    test('may have columns that are called as the parts of the statement are', async () => {
      const tallies = ['place 1', 'group 1', 'key 1'].map((name) => ({ name, formula: 'count()' }))
      await published(withReport({ levels: [{ key: 'hive', name: 'rows' }], tallies, lines: [] }))
      expect(await lines('level, "rows", "place 1", "group 1", "key 1"')).toEqual([
        { level: 1, rows: 'T-1', 'place 1': 3, 'group 1': 3, 'key 1': 3 },
        { level: 1, rows: 'T-2', 'place 1': 1, 'group 1': 1, 'key 1': 1 },
        { level: 1, rows: null, 'place 1': 1, 'group 1': 1, 'key 1': 1 },
        { level: 0, rows: null, 'place 1': 5, 'group 1': 5, 'key 1': 5 },
      ])
    })

    test('without levels are the whole, and flat ones the innermost groups', async () => {
      await published(withReport({ levels: [], lines: [] }))
      expect(await lines('level, takes')).toEqual([{ level: 0, takes: 5 }])
      await published(withReport({ flat: true, lines: [] }))
      expect(Object.keys((await lines())[0] ?? {})).toEqual(['of', 'month', 'kg', 'kg!fault', 'takes'])
    })

    test('are made anew where they are defined otherwise, and nothing else is', async () => {
      await published(withReport())
      const { steps } = await published(withReport({ lines: [] }))
      expect(steps.filter(({ what }) => what !== 'kept')).toEqual([{ what: 'changed', kind: 'view', name: 'by_hive!report' }])
    })

    test('read what is kept where that is kept', async () => {
      const book = withReport({ tallies: [{ name: 'worth', formula: 'max(if_error(worth, 0))' }], lines: [] })
      await published(book, { kept: ['harvests.worth'] })
      await database.run('update mellow."harvests!kept" set worth = 1000 where worth = 38')
      expect(await lines('max(worth) as worth')).toEqual([{ worth: 1000 }])
    })

    test.each<[string, Partial<GroupedView>, string]>([
      ['spreads a key over columns', { across: { key: 'hive' } }, 'which ones is known only when it is made'],
      ['shows the first groups alone', { top: [{ count: 1, by: 'kg' }] }, 'become a line of their own'],
      ['shows some groups alone', { having: 'takes > 1' }, 'become a line of their own'],
      ['asks for a value', { where: 'kg < top', parameters: [{ name: 'top', type: 'number' }] }, 'it asks for top each time'],
      ['has a tally without a form', { tallies: [{ name: 'kg', formula: 'sum(random())' }], lines: [] }, 'rows of the workbook'],
      ['has a key without a form', { levels: [{ key: 'random()', name: 'any' }], lines: [] }, 'rows of the workbook'],
    ])('one that %s is refused, and the rest is published without it', async (_, report, reason) => {
      const book = withReport({
        lines: [],
        ...report,
        tallies: report.tallies ?? [
          { name: 'kg', formula: 'sum(kg)' },
          { name: 'takes', formula: 'count()' },
        ],
      })
      const refused = await published(book).catch((error: unknown) => error)
      expect(refused).toBeInstanceOf(PublishRefusal)
      expect((refused as PublishRefusal).formulas[0]?.address).toMatch(/^report:by_hive/)
      expect((refused as PublishRefusal).message).toContain(reason)
      const { leftOut, steps } = await published(book, { leaveOut: ['report:By_Hive'] })
      expect([leftOut, steps.some(({ name }) => name === 'by_hive!report')]).toEqual([['report:by_hive'], false])
      await expect(published(book, { leaveOut: ['report:nothing'] })).rejects.toThrow('report:nothing is no report')
    })

    test('one that reads what is left out is left out with it', async () => {
      const book = withReport({ tallies: [{ name: 'takes', formula: 'count(worth)' }] })
      const { leftOut } = await published(book, { leaveOut: ['harvests.worth'] })
      expect(leftOut).toEqual(['harvests.worth', 'report:by_hive'])
    })
  })
}
