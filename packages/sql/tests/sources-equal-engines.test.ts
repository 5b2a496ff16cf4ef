import { describeRelation, readRelation, SourceFault, takeSample } from '@mellow-abacus/sql'
import { type Finding, Workbook } from 'mellow-abacus'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { asDatabase, attachIn } from './helpers/attached-book.js'
import { duckdb, pglite, type TestEngine } from './helpers/engines.js'
import { differences, publishIn } from './helpers/published.js'

/** Columns of every type of each engine: how they are taken as a sample, and that the views read them the same way. */

const engines: Partial<Record<'duckdb' | 'postgresql', TestEngine>> = {}
beforeAll(async () => {
  engines.duckdb = await duckdb()
  engines.postgresql = await pglite()
})
afterAll(async () => {
  for (const engine of Object.values(engines)) await engine.close()
})
const engineOf = (name: 'duckdb' | 'postgresql'): TestEngine => engines[name] as TestEngine

type Case = readonly [type: string, values: readonly string[], as: string, cells: readonly unknown[]]
const misfit = (text: string): unknown => ({ misfit: text })
const E17 = '12345678901234567'

const SHARED: readonly Case[] = [
  ['smallint', ['-32768', '7', 'null'], 'integer', [-32_768, 7, null]],
  ['integer', ['2147483647', '0', 'null'], 'integer', [2_147_483_647, 0, null]],
  ['bigint', ['9007199254740992', '-9007199254740992', 'null'], 'integer', [2 ** 53, -(2 ** 53), null]],
  // Beyond what a number holds: then they are names of something.
  ['bigint', [E17, '5', 'null'], 'text', [E17, '5', null]],
  ['numeric(6,1)', ['12.5', '-99999.9', 'null'], 'number', [12.5, -99_999.9, null]],
  ['numeric(12,0)', ['999999999999', '-1', 'null'], 'integer', [999_999_999_999, -1, null]],
  ['numeric(18,17)', ['0.12345678901234567', '0.99999999999999999', 'null'], 'number', [Number('0.12345678901234567'), 1, null]],
  ['numeric(38,10)', ['1234567890123456789.5', '0.0000000001', 'null'], 'number', [Number('1234567890123456789.5'), 1e-10, null]],
  ['real', ["'0.1'", "'-0'", "'infinity'", 'null'], 'number', [0.10000000149011612, 0, misfit('inf'), null]],
  ['double precision', ["'0.1'", "'-0'", "'1e308'", "'nan'", 'null'], 'number', [0.1, 0, 1e308, misfit('nan'), null]],
  ['boolean', ['true', 'false', 'null'], 'boolean', [true, false, null]],
  [
    'date',
    ["'2026-02-28'", "'0001-01-01'", "'infinity'", 'null'],
    'date',
    ['2026-02-28', '0001-01-01', misfit('infinity'), null],
  ],
  [
    'timestamp',
    ["'2026-07-01 10:20:30.123456'", "'2026-07-01'", 'null'],
    'datetime',
    ['2026-07-01T10:20:30.123', '2026-07-01', null],
  ],
  ['timestamp with time zone', ["'2026-07-01 10:00:00+02'", 'null'], 'datetime', ['2026-07-01T08:00', null]],
  ['varchar(20)', ["'Heath'", "''", "'Żuk'", 'null'], 'text', ['Heath', '', 'Żuk', null]],
  ['text', ["'B'", "'a'", "'it''s'", 'null'], 'text', ['B', 'a', "it's", null]],
  ['uuid', ["'6f0b6b0e-0000-4000-8000-000000000001'", 'null'], 'text', ['6f0b6b0e-0000-4000-8000-000000000001', null]],
]

const OWN: Readonly<Record<'duckdb' | 'postgresql', readonly Case[]>> = {
  duckdb: [
    ['utinyint', ['255', '0'], 'integer', [255, 0]],
    ['hugeint', ['7', '-8'], 'integer', [7, -8]],
    ["enum('low', 'high')", ["'low'", 'null'], 'text', ['low', null]],
    ['timestamp_ms', ["'2026-07-01 10:20:30.5'"], 'datetime', ['2026-07-01T10:20:30.5']],
  ],
  postgresql: [
    ['numeric', ['0.1', "'1e-400'", "'1e400'", "'nan'", 'null'], 'number', [0.1, 0, misfit('1e400'), misfit('nan'), null]],
    ['character(5)', ["'ab'", 'null'], 'text', ['ab', null]],
    ['name', ["'Mill'"], 'text', ['Mill']],
  ],
}

/** A cell to compare: date-times in full, and of a misfit only that it is one, since each engine writes it its own way. */
const plain = (cell: unknown): unknown => {
  if (typeof cell === 'object' && cell !== null) return 'misfit'
  if (typeof cell !== 'string' || !/^\d{4}-\d\d-\d\dT/.test(cell)) return cell
  return cell
    .replace(/T00:00:00$/, '')
    .replace(/(T\d\d:\d\d):00$/, '$1')
    .replace(/(\.\d*?)0+$/, '$1')
}

describe.each(['duckdb', 'postgresql'] as const)('%s', (name) => {
  test.each([...SHARED, ...OWN[name]])('%s holding %j', async (type, values, as, cells) => {
    const engine = engineOf(name)
    const database = asDatabase(engine)
    await engine.run('drop schema if exists src cascade')
    await engine.run('create schema src')
    await engine.run(`create table src.held (n integer primary key, held ${type})`)
    await engine.run(`insert into src.held values ${values.map((value, n) => `(${n}, ${value})`).join(', ')}`)
    const book = new Workbook()
    const sample = await attachIn(book, 'held', database, ['src', 'held'])
    const held = sample.columns.find(({ of }) => of === 'held')
    expect([held?.type, held?.cells.map(plain)]).toEqual([as, cells.map(plain)])
    expect(held?.blanks).toBe(cells.filter((cell) => cell === null).length)
    expect(held?.misfits).toBe(cells.filter((cell) => plain(cell) === 'misfit').length)
    expect(held?.zeros).toBe(as === 'text' ? 0 : cells.filter((cell) => cell === 0).length)
    // What reads it is what the workbook makes of the same rows.
    const formulas = {
      number: '-held * 2',
      integer: 'held + 0.5',
      text: 'held & "!"',
      boolean: 'not held',
      date: 'year(held)',
      datetime: 'year(held)',
    }
    book.applyJson({ op: 'add-column', table: 'held', column: { name: 'made', formula: formulas[as as keyof typeof formulas] } })
    book.applyJson({ op: 'add-column', table: 'held', column: { name: 'before', formula: 'lag(held order by held, n)' } })
    const model = await publishIn(engine, book)
    expect(model.refused).toEqual([])
    expect(await differences(engine, book, model)).toEqual([])
  })

  test('columns that a workbook has nothing like, or has already, are left out with the reason', async () => {
    const engine = engineOf(name)
    await engine.run('drop schema if exists src cascade')
    await engine.run('create schema src')
    const twice = name === 'postgresql' ? ', "ID" integer' : ''
    await engine.run(`create table src.odd (id integer primary key, spans interval, list integer[]${twice})`)
    const sample = await takeSample(asDatabase(engine), await describeRelation(asDatabase(engine), ['src', 'odd']), {
      most: 10,
      key: null,
      zone: 'UTC',
    })
    expect(sample.columns.map(({ of }) => of)).toEqual(['id'])
    const reasons = sample.leftOut.map(({ name: one, reason }) => `${one}: ${reason}`)
    expect(reasons.slice(0, 2)).toEqual([
      expect.stringMatching(/^spans: a workbook has nothing like interval$/i),
      expect.stringMatching(/^list: a workbook has nothing like integer\[\]$/i),
    ])
    expect(reasons.slice(2)).toEqual(name === 'postgresql' ? ['ID: its name is that of id'] : [])
  })

  test('keys and columns without blanks are those of the database', async () => {
    const engine = engineOf(name)
    await engine.run('drop schema if exists src cascade')
    await engine.run('create schema src')
    await engine.run(
      'create table src.takes (day date not null, hive text not null, lot integer unique, primary key (hive, day))',
    )
    const relation = await describeRelation(asDatabase(engine), ['src', 'takes'])
    expect(relation.unique).toEqual([['hive', 'day'], ['lot']])
    expect(relation.columns.map((one) => `${one.name} ${one.isFull}`)).toEqual(['day true', 'hive true', 'lot false'])
    await engine.run('create view src.seen as select * from src.takes')
    expect((await describeRelation(asDatabase(engine), ['src', 'seen'])).unique).toEqual([])
  })

  test('a sample is spread over all rows, in the order of the key', async () => {
    const engine = engineOf(name)
    await engine.run('drop schema if exists src cascade')
    await engine.run('create schema src')
    const series = name === 'duckdb' ? 'range(20000) as r(i)' : 'generate_series(0, 19999) as r(i)'
    await engine.run(`create table src.many as select cast(i as integer) as n, i % 100 as part from ${series}`)
    const relation = await describeRelation(asDatabase(engine), ['src', 'many'])
    const sample = await takeSample(asDatabase(engine), relation, { most: 2000, key: ['n'], zone: 'UTC' })
    expect(sample.relation.rows).toBe(20_000)
    expect(Math.abs(sample.rowCount - 2000)).toBeLessThan(300)
    const numbers = sample.columns[0]?.cells as number[]
    expect(numbers).toEqual([...numbers].sort((a, b) => a - b))
    expect(Math.abs(numbers.filter((one) => one < 10_000).length / sample.rowCount - 0.5)).toBeLessThan(0.1)
  })

  test.each([
    ['rows share', ['part'], /2 rows whose key part another row has too/],
    ['some rows lack', ['lot'], /1 row without a value of the key lot/],
    ['the relation does not have', ['none'], /no column none that could be part of the key/],
  ])('a key that %s is refused', async (_, key, reason) => {
    const engine = engineOf(name)
    await engine.run('drop schema if exists src cascade')
    await engine.run('create schema src')
    await engine.run('create table src.few (n integer, part integer, lot integer)')
    await engine.run('insert into src.few values (1, 4, 1), (2, 4, null), (3, 5, 3)')
    const relation = await describeRelation(asDatabase(engine), ['src', 'few'])
    const taken = takeSample(asDatabase(engine), relation, { most: 10, key, zone: 'UTC' })
    await expect(taken).rejects.toThrow(reason)
    await expect(taken).rejects.toBeInstanceOf(SourceFault)
  })

  test('a relation that is not there is refused', async () => {
    await expect(describeRelation(asDatabase(engineOf(name)), ['nowhere', 'takes'])).rejects.toThrow(
      'no table or view nowhere.takes',
    )
  })

  test('what the sample lacks is said of the formulas that will meet it', async () => {
    const engine = engineOf(name)
    await engine.run('drop schema if exists src cascade')
    await engine.run('create schema src')
    const series = name === 'duckdb' ? 'range(3000) as r(i)' : 'generate_series(0, 2999) as r(i)'
    await engine.run(
      `create table src.rare as select cast(i as integer) as n, cast(case when i > 0 then 4 else 0 end as integer) as frames from ${series}`,
    )
    const database = asDatabase(engine)
    const sample = await takeSample(database, await describeRelation(database, ['src', 'rare']), {
      most: 1,
      key: ['n'],
      zone: 'UTC',
    })
    expect(sample.columns.find(({ of }) => of === 'frames')?.zeros).toBe(1)
    const book = new Workbook()
    await attachIn(book, 'rare', database, ['src', 'rare'], ['n'])
    book.applyJson({ op: 'add-column', table: 'rare', column: { name: 'share', formula: '1 / frames' } })
    const codes = (found: readonly Finding[]): string[] => found.map(({ code }) => code)
    expect(codes(book.findings())).toEqual(['division-by-zero'])
    book.applyJson({ op: 'remove-rows', table: 'rare', rows: [1] })
    expect(codes(book.findings())).toEqual(['beyond-sample'])
  })
})

test('a schema that is called as its DuckDB file is told from it', async () => {
  const engine = engineOf('duckdb')
  await engine.run('create schema if not exists memory.memory')
  await engine.run('create or replace table memory.memory.takes as select 1 as id')
  const database = asDatabase(engine)
  const relation = await describeRelation(database, ['memory', 'takes'])
  expect(relation.path).toEqual(['memory', 'memory', 'takes'])
  expect((await takeSample(database, relation, { most: 5, key: null, zone: 'UTC' })).rowCount).toBe(1)
})

test.each([
  ['harvests', ['harvests']],
  ['public.harvests', ['public', 'harvests']],
  ['"my yard"."a ""b"" c"', ['my yard', 'a "b" c']],
  ['bees.public.harvests', ['bees', 'public', 'harvests']],
])('a relation is read: %s', (text, names) => expect(readRelation(text)).toEqual(names))

test.each(['', 'a.b.c.d', 'a..b', '"a', 'a.'])('%j is no relation', (text) => {
  expect(() => readRelation(text)).toThrow(SourceFault)
})
