import { type Database, openDatabase, PublishRefusal, publishOverShards, type ShardedPublishOptions } from '@mellow-abacus/sql'
import fc from 'fast-check'
import { loadPatterns } from 'mellow-abacus'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { type Definition, definition } from '../../../core/tests/helpers/random-models.js'
import { startServer, type TestServer } from '../helpers/postgresql-server.mjs'
import { differences } from '../helpers/published.js'
import { attachedBook, randomRows } from '../helpers/random-book.js'
import { randomReport, reportDifferences } from '../helpers/random-report.js'
import { engineOf } from '../helpers/server-engine.js'
import { type Servers, spreadModel, spreadSources } from '../helpers/spread-book.js'

/** Models over three servers of PostgreSQL, and a fourth that puts together what they give: npm run test:servers. */
const started: TestServer[] = []
const databases: Database[] = []
let servers: Servers

beforeAll(async () => {
  await loadPatterns()
  for (let index = 0; index < 4; index++) {
    const server = await startServer()
    started.push(server)
    databases.push(await openDatabase(server.address))
  }
  const [coordinator, ...shards] = databases as [Database, ...Database[]]
  await coordinator.run('create extension postgres_fdw')
  for (const [index, { port }] of started.slice(1).entries()) {
    const server = `shard_${index + 1}`
    await coordinator.run(
      `create server ${server} foreign data wrapper postgres_fdw options (host '127.0.0.1', port '${port}', dbname 'postgres');
      create user mapping for current_user server ${server} options (user 'mellow')`,
    )
  }
  servers = {
    coordinator: engineOf(coordinator),
    shards: shards.map(engineOf),
    settings: {
      shards: shards.map((_, index) => ({ server: `shard_${index + 1}`, address: String(index) })),
      tables: { takes: ['hive'] },
    },
  }
}, 120_000)
afterAll(async () => {
  for (const database of databases) await database.close()
  for (const server of started) server.stop()
})

test.each([
  ['as far as servers can have them by themselves', []],
  ['with the rows that are spread brought to one place where that is needed', ['takes']],
])(
  'models give over three servers what they give in the workbook, %s',
  async (_, gather) => {
    const numRuns = Number(process.env.RUNS ?? 20)
    let held = 0
    await fc.assert(
      fc.asyncProperty(randomRows, fc.array(definition, { minLength: 1, maxLength: 8 }), async (rows, definitions) => {
        const made = await spreadModel(servers, rows, definitions, gather)
        held += made.held
        expect(await differences(servers.coordinator, made.book, { approximate: made.published.approximate })).toEqual([])
      }),
      { numRuns },
    )
    expect(held).toBeGreaterThan(numRuns)
  },
  14_400_000,
)

test.each([
  ['of what each of them gathers', []],
  ['of all rows', ['takes']],
])(
  'reports over three servers have the lines that they have in the workbook, %s',
  async (_, gather) => {
    const numRuns = Number(process.env.RUNS ?? 20)
    let held = 0
    await fc.assert(
      fc.asyncProperty(randomRows, randomReport, async (rows, report) => {
        try {
          const { book, published } = await spreadModel(servers, rows, [], gather, report)
          const approximate = new Set(published.approximate.map(({ address }) => address))
          expect(await reportDifferences(servers.coordinator, book, approximate)).toEqual([])
          held++
        } catch (error) {
          if (!(error instanceof PublishRefusal) || error.formulas.length === 0) throw error
          for (const { reason } of error.formulas) expect(reason).toMatch(/is not to be had from|than a server has|has no key/)
        }
      }),
      { numRuns },
    )
    expect(held).toBeGreaterThan(numRuns / 4)
  },
  14_400_000,
)

describe('published over three servers', () => {
  const rows = {
    yards: [{ code: 'A' }, { code: 'B' }],
    hives: ['A', 'B', 'C', 'D'].map((tag, at) => ({ tag, yard: at % 2 === 0 ? 'A' : 'B', frames: at + 1 })),
    takes: Array.from({ length: 40 }, (_, at) => ({ hive: 'ABCD'[at % 4], kg: at, lot: at % 3 })),
  }
  const FORMULAS: Definition[] = [
    { table: 'takes', formula: 'kg per hive.frames' },
    { table: 'hives', formula: 'sum(takes.kg)' },
    { table: 'yards', formula: 'mean(takes.kg via hive.site)' },
  ]
  const published = (definitions: readonly Definition[], more: Partial<ShardedPublishOptions> = {}) =>
    attachedBook(servers.coordinator, definitions).then((book) =>
      publishOverShards(
        book,
        databases[0] as Database,
        async (address) => ({ ...(databases[Number(address) + 1] as Database), close: async () => undefined }),
        { book: 'spread', schema: 'm', settings: servers.settings, ...more },
      ),
    )
  const schemas = () =>
    Promise.all(
      databases.map(async (database) =>
        (
          await database.rows(
            `select schema_name as name from information_schema.schemata where schema_name like 'm%' order by 1`,
          )
        ).map(({ name }) => name),
      ),
    )
  const sums = () => servers.coordinator.rows('select tag, x1 from m.hives order by tag')
  const SUMS = ['A', 'B', 'C', 'D'].map((tag, at) => ({ tag, x1: 180 + 10 * at }))

  beforeAll(async () => {
    for (const database of databases)
      for (const { name } of await database.rows(
        `select schema_name as name from information_schema.schemata where schema_name like 'm%'`,
      ))
        await database.run(`drop schema "${name}" cascade`)
    await spreadSources(servers, rows)
  })

  test('a preview does nothing', async () => {
    const { statements, shardStatements, placed } = await published(FORMULAS, { preview: true })
    expect(statements.join('\n')).toContain('create foreign table')
    expect(shardStatements.join('\n')).toContain('group by')
    expect(placed.map(({ place }) => place)).toEqual(['in two steps', 'everywhere', 'in two steps', 'shard', 'in two steps'])
    expect(await schemas()).toEqual([[], [], [], []])
  })

  test('it is there, and once more nothing changes', async () => {
    await published(FORMULAS)
    expect(await sums()).toEqual(SUMS)
    expect(await schemas()).toEqual([['m'], ['m!1'], ['m!1'], ['m!1']])
    const again = await published(FORMULAS)
    expect([again.shardStatements, again.steps.filter(({ what }) => what !== 'kept')]).toEqual([[], []])
  })

  test('a report brings no more rows than there are groups on the shards', async () => {
    const plan = await servers.coordinator.rows('select * from m.yards')
    expect(plan.length).toBe(2)
    const found = await (databases[0] as Database).rows('explain (analyze, verbose, format json) select * from m.yards')
    const [{ 'QUERY PLAN': plans }] = found as unknown as [{ readonly 'QUERY PLAN': readonly [{ readonly Plan: PlanNode }] }]
    const scans = foreignScans(plans[0].Plan)
    const totals = scans.filter((scan) => relationsOf(scan).includes('!totals'))
    expect(totals.map((scan) => scan['Async Capable'])).toEqual([true, true, true])
    expect(totals.reduce((sum, scan) => sum + scan['Actual Rows'], 0)).toBeLessThanOrEqual(3 * 2)
    expect(scans.some((scan) => relationsOf(scan).includes('takes!rows'))).toBe(false)
  })

  test('another model takes its place, and nothing of the one before is left', async () => {
    const [one, ...rest] = FORMULAS as [Definition, ...Definition[]]
    await published([{ ...one, formula: 'kg + 1' }, ...rest])
    expect(await schemas()).toEqual([['m'], ['m!2'], ['m!2'], ['m!2']])
    expect(await servers.coordinator.rows('select x0 from m.takes where n = 7')).toEqual([{ x0: 8 }])
  })

  test('where a server fails, everything is as it was', async () => {
    await (databases[3] as Database).run('create schema "m!3"; create table "m!3".theirs (a integer)')
    await expect(published(FORMULAS)).rejects.toThrow('is not one that a workbook was published to')
    expect(await schemas()).toEqual([['m'], ['m!2'], ['m!2'], ['m!2', 'm!3']])
    expect(await sums()).toEqual(SUMS)
    await (databases[3] as Database).run('drop schema "m!3" cascade')
  })

  test('what others have made of a schema of before stays, and is told of', async () => {
    await (databases[1] as Database).run('create view public.theirs as select * from "m!2".takes')
    const { leftBehind } = await published(FORMULAS)
    expect(leftBehind.length).toBe(1)
    expect(leftBehind[0]).toContain('m!2 of postgresql://')
    expect(await schemas()).toEqual([['m'], ['m!2', 'm!3'], ['m!3'], ['m!3']])
    await (databases[1] as Database).run('drop view public.theirs; drop schema "m!2" cascade')
  })

  test('tables that are copied, and rules, are there as well', async () => {
    const book = await attachedBook(servers.coordinator, FORMULAS)
    book.applyJson([
      {
        op: 'add-table',
        table: 'grades',
        columns: [
          { name: 'n', type: 'integer' },
          { name: 'factor', type: 'number' },
        ],
      },
      {
        op: 'insert-rows',
        table: 'grades',
        rows: [
          { n: 0, factor: 2 },
          { n: 1, factor: 3 },
        ],
      },
      { op: 'add-column', table: 'takes', column: { name: 'times', formula: 'kg * sum(every grades.factor)' } },
      { op: 'add-column', table: 'takes', column: { name: 'place', formula: 'rank(kg)' } },
      { op: 'set-rule', table: 'takes', name: 'light', condition: 'kg < 38' },
      { op: 'set-rule', table: 'takes', name: 'among few', condition: 'place > 3' },
      { op: 'set-rule', table: 'hives', name: 'busy', condition: 'count(takes) > 10' },
    ])
    const open = async (address: string) => ({ ...(databases[Number(address) + 1] as Database), close: async () => undefined })
    const { approximate } = await publishOverShards(book, databases[0] as Database, open, {
      book: 'spread',
      schema: 'm',
      settings: servers.settings,
      gather: ['takes'],
    })
    expect(await differences(servers.coordinator, book, { approximate })).toEqual([])
    const broken = async (rule: string): Promise<unknown> =>
      (await servers.coordinator.rows(`select n from m."${rule}!violations" order by n`)).map(({ n }) => n)
    expect([await broken('light'), await broken('among few')]).toEqual([
      [38, 39],
      [0, 1, 2],
    ])
    expect((await servers.coordinator.rows('select tag from m."busy!violations" order by tag')).length).toBe(4)
  })

  test('a server that is not known is asked for, and none is made', async () => {
    const shards = [{ server: 'shard_9', address: '0' }]
    const message = 'knows no foreign server shard_9'
    await expect(published(FORMULAS, { settings: { ...servers.settings, shards } })).rejects.toThrow(message)
  })

  test('a column that is another on one of the servers is refused', async () => {
    await (databases[2] as Database).run('drop schema "m!4" cascade; alter table src.takes alter column lot type text')
    await expect(published(FORMULAS)).rejects.toThrow('not the same column lot on every server')
    expect((await schemas())[0]).toEqual(['m'])
  })
})

/** A step of a plan of PostgreSQL. */
interface PlanNode {
  readonly 'Node Type': string
  readonly 'Relation Name'?: string
  /** Of a scan that another server does more than reading for. */
  readonly Relations?: string
  readonly 'Actual Rows': number
  readonly 'Async Capable': boolean
  readonly Plans?: readonly PlanNode[]
}

function foreignScans(node: PlanNode): PlanNode[] {
  return [...(node['Node Type'] === 'Foreign Scan' ? [node] : []), ...(node.Plans ?? []).flatMap(foreignScans)]
}

const relationsOf = (node: PlanNode): string => node['Relation Name'] ?? node.Relations ?? ''
