import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { POSTGRESQL } from '../src/dialects/index.js'
import { NoForm, readShardSettings } from '../src/index.js'
import { shardedModel } from '../src/shards/sharded-model.js'
import { pglite, type TestEngine } from './helpers/engines.js'
import { attachedBook, makeSources } from './helpers/random-book.js'

/** Where columns are calculated whose rows are spread over servers by hive; hives and yards are whole on each. */
let engine: TestEngine
beforeAll(async () => {
  engine = await pglite()
  await makeSources(engine, { yards: [], hives: [], takes: [] })
}, 60_000)
afterAll(() => engine.close())

const SETTINGS = readShardSettings({
  shards: [
    { server: 'one', address: 'postgresql://one/bees' },
    { server: 'two', address: 'postgresql://two/bees' },
  ],
  tables: { takes: 'hive' },
})

async function modelOf(table: 'yards' | 'hives' | 'takes', formula: string, gather: readonly string[] = []) {
  const book = await attachedBook(engine, [{ table, formula }])
  return shardedModel(book, {
    dialect: POSTGRESQL,
    schema: 'm',
    shardSchema: 'm!1',
    settings: SETTINGS,
    relations: new Map(),
    leaveOut: [],
    gather,
  })
}

describe('a column is calculated', () => {
  test.each([
    ['takes', 'kg + lot', 'shard'],
    ['takes', 'hive.frames * 2', 'shard'],
    ['takes', 'sum(kg by hive)', 'shard'],
    ['takes', 'lag(kg by hive order by day)', 'shard'],
    ['takes', 'rank(kg by hive)', 'shard'],
    ['takes', 'share(kg by hive)', 'shard'],
    ['takes', 'kg * book.price', 'shard'],
    ['takes', 'count(every hives where frames > this.kg)', 'shard'],
    ['hives', 'frames + 1', 'everywhere'],
    ['hives', 'site.area', 'everywhere'],
    ['yards', 'sum(hives.frames)', 'everywhere'],
    ['hives', 'sum(takes.kg)', 'in two steps'],
    ['hives', 'median(takes.kg)', 'in two steps'],
    ['hives', 'last(takes.day order by lot)', 'in two steps'],
    ['hives', 'count(takes) + 1', 'in two steps'],
    ['yards', 'sum(takes.kg via hive.site)', 'in two steps'],
    ['yards', 'mean(takes.kg via hive.site where lot > 1)', 'in two steps'],
    ['hives', 'max(every takes.kg where lot > 1)', 'in two steps'],
    ['yards', 'variance(takes.kg via hive.site)', 'in two steps'],
    ['yards', 'stdev(takes.kg via hive.site where lot > 1)', 'in two steps'],
  ] as const)('of %s = %s: %s', async (table, formula, place) => {
    const { placed, refused } = await modelOf(table, formula)
    expect(refused).toEqual([])
    expect(placed.find(({ address }) => address === `${table}.x0`)).toEqual({ address: `${table}.x0`, place })
  })

  test('where what is put together is read on, by the coordinator', async () => {
    const book = await attachedBook(engine, [
      { table: 'hives', formula: 'sum(takes.kg)' },
      { table: 'yards', formula: 'max(hives.x0)' },
    ])
    const options = { dialect: POSTGRESQL, schema: 'm', shardSchema: 'm!1', settings: SETTINGS, relations: new Map() }
    const { placed, refused } = shardedModel(book, { ...options, leaveOut: [], gather: [] })
    expect(refused).toEqual([])
    expect(placed.filter(({ address }) => /x\d/.test(address)).map(({ place }) => place)).toEqual(['coordinator', 'in two steps'])
  })
})

describe('what would bring all rows to one place is refused, unless that is wanted', () => {
  test.each([
    ['takes', 'rank(kg)', 'all rows of takes would be brought to one place: it reads more'],
    ['takes', 'kg per sum(kg)', 'all rows of takes would be brought to one place: it reads more'],
    ['takes', 'lag(kg order by day)', 'all rows of takes would be brought to one place: it reads more'],
    ['yards', 'median(takes.kg via hive.site)', 'median() is not to be had'],
    ['yards', 'count_distinct(takes.lot via hive.site)', 'count_distinct() is not to be had'],
    ['hives', 'count(every takes where kg > this.frames)', 'count() is not to be had'],
    ['hives', 'count(every takes where grade = this.tag)', 'count() is not to be had'],
  ] as const)('of %s = %s', async (table, formula, reason) => {
    const { refused } = await modelOf(table, formula)
    expect(refused).toEqual([expect.objectContaining({ address: `${table}.x0`, formula })])
    expect(refused[0]?.reason).toContain(reason)
    expect(refused[0]?.reason).toContain('--gather takes')
    const gathered = await modelOf(table, formula, ['takes'])
    expect(gathered.refused).toEqual([])
    // A total of all rows is put together of what servers gather all the same.
    const place = formula.includes('per sum') ? 'in two steps' : 'coordinator'
    expect(gathered.placed.find(({ address }) => address === `${table}.x0`)?.place).toBe(place)
  })
})

test('what is left out is left out with what reads it, totals too', async () => {
  const book = await attachedBook(engine, [
    { table: 'takes', formula: 'kg * 2' },
    { table: 'hives', formula: 'sum(takes.x0)' },
    { table: 'yards', formula: 'max(hives.x1)' },
  ])
  const options = { dialect: POSTGRESQL, schema: 'm', shardSchema: 'm!1', settings: SETTINGS, relations: new Map() }
  const { refused, leftOut } = shardedModel(book, { ...options, leaveOut: ['takes.x0'], gather: [] })
  expect([refused, [...leftOut].sort()]).toEqual([[], ['hives.x1', 'takes.x0', 'yards.x2']])
})

test('a formula whose totals have no form on the servers is refused by its name', async () => {
  const { refused } = await modelOf('hives', 'max(length(takes.grade))')
  expect(refused).toEqual([expect.objectContaining({ address: 'hives.x0', formula: 'max(length(takes.grade))' })])
  expect(refused[0]?.reason).toContain('length')
})

describe('a report of rows that are spread', () => {
  const ofReport = async (
    report: object,
    more: { readonly gather?: readonly string[]; readonly leaveOut?: readonly string[] } = {},
  ) => {
    const book = await attachedBook(engine, [])
    book.applyJson([
      { op: 'change-column', table: 'takes', column: 'grade', set: { orderKey: 'lot' } },
      { op: 'set-report', name: 'r', report: { table: 'takes', ...report } },
    ] as never)
    const options = { dialect: POSTGRESQL, schema: 'm', shardSchema: 'm!1', settings: SETTINGS, relations: new Map() }
    return shardedModel(book, { ...options, leaveOut: more.leaveOut ?? [], gather: more.gather ?? [] })
  }
  const placeOf = ({ placed }: { readonly placed: readonly { address: string; place: string }[] }) =>
    placed.find(({ address }) => address === 'report:r')?.place

  test('is put together of what servers gather, its order too', async () => {
    const tallies = [
      { name: 'kg', formula: 'sum(kg where lot > 1)' },
      { name: 'apart', formula: 'stdev(kg) per mean(kg)' },
    ]
    const made = await ofReport({ levels: [{ key: 'grade' }, { key: 'hive.site.area', name: 'area' }], tallies })
    expect([made.refused, placeOf(made)]).toEqual([[], 'in two steps'])
    const statements = made.shard.statements.filter(({ name }) => name.includes('!totals'))
    // Those of the report, of the order of its key, and of the tally of the table.
    expect(statements.map(({ kind }) => kind)).toEqual(['view', 'view', 'view'])
    expect(made.coordinator.statements.some(({ text }) => text.includes('takes!rows'))).toBe(true)
    expect(made.coordinator.statements.find(({ name }) => name === 'r!report')?.text).not.toContain('takes!rows')
  })

  test.each([
    [{ tallies: [{ name: 'middle', formula: 'median(kg)' }] }, 'median() is not to be had'],
    [{ levels: [{ key: 'rank(kg)', name: 'place' }] }, 'the key place reads more rows of takes than a server has'],
    [{ where: 'kg > mean(kg)' }, 'its condition reads more rows of takes than a server has'],
    [{ tallies: [{ name: 'far', formula: 'sum(kg where kg > mean(kg))' }] }, 'sum() reads more rows of takes than a server has'],
  ])('is refused where it needs the rows themselves: %j', async (report, reason) => {
    const { refused } = await ofReport(report)
    expect(refused).toEqual([{ address: 'report:r', formula: '', reason: expect.stringContaining(reason) }])
    const { leftOut, refused: none } = await ofReport(report, { leaveOut: ['report:r'] })
    expect([leftOut, none]).toEqual([['report:r'], []])
    const gathered = await ofReport(report, { gather: ['takes'] })
    expect(gathered.refused).toEqual([])
    expect(placeOf(gathered)).toMatch(/coordinator|in two steps/)
  })
})

describe('settings that cannot be', () => {
  test.each([
    [{}, '"shards" lists the servers'],
    [{ shards: [{ server: 'one' }], tables: {} }, '"server", the name of a foreign server, and "address"'],
    [{ shards: [1, 2].map(() => ({ server: 'one', address: 'a' })), tables: { takes: 'hive' } }, 'the same "server"'],
    [{ shards: [{ server: 'one', address: 'a' }] }, '"tables" says by which columns'],
    [{ shards: [{ server: 'one', address: 'a' }], tables: { takes: [] } }, '"tables", takes: expected a column'],
  ])('%j', (json, message) => {
    expect(() => readShardSettings(json)).toThrow(NoForm)
    expect(() => readShardSettings(json)).toThrow(message)
  })

  test.each([
    [{ nothing: ['hive'] }, 'no table nothing'],
    [{ takes: ['x0'] }, 'takes has no column x0 of its source'],
  ])('%j', async (tables, message) => {
    const book = await attachedBook(engine, [{ table: 'takes', formula: 'kg' }])
    const settings = { ...SETTINGS, tables }
    const options = { dialect: POSTGRESQL, schema: 'm', shardSchema: 'm!1', settings, relations: new Map(), leaveOut: [] }
    expect(() => shardedModel(book, { ...options, gather: [] })).toThrow(message)
    expect(() => shardedModel(book, { ...options, settings: SETTINGS, gather: ['hives'] })).toThrow('nothing to be gathered')
  })
})
