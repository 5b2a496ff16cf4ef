import { execFileSync, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { fileURLToPath } from 'node:url'
import { manyHarvests } from '@mellow-abacus/demo'
import { type Database, openDatabase, publish, type Shard, type ShardSettings } from '@mellow-abacus/sql'
import fc from 'fast-check'
import { loadPatterns, Workbook } from 'mellow-abacus'
import { afterAll, beforeAll, expect, test } from 'vitest'
import { definition } from '../../../core/tests/helpers/random-models.js'
import { describeAttached } from '../attached-suite.js'
import { coop } from '../helpers/coop.js'
import { startServer, type TestServer } from '../helpers/postgresql-server.mjs'
import { differences, publishIn } from '../helpers/published.js'
import { publishedModel, randomRows } from '../helpers/random-book.js'
import { holdRefreshed } from '../helpers/random-refresh.js'
import { engineOf } from '../helpers/server-engine.js'
import { describePublishing } from '../publish-suite.js'
import { describeRefreshing } from '../refresh-suite.js'
import { describeReports } from '../reports-suite.js'

/**
 * What needs a server of PostgreSQL, started here as somebody without rights: npm run test:servers. Raise the random models with
 * RUNS=2000.
 */
let server: TestServer
let database: Database

beforeAll(async () => {
  await loadPatterns()
  server = await startServer()
  database = await openDatabase(server.address)
}, 120_000)
afterAll(async () => {
  await database.close()
  server.stop()
})

describePublishing('PostgreSQL', () => server.address)
describeAttached('PostgreSQL', () => server.address)
describeRefreshing('PostgreSQL', () => server.address)
describeReports('PostgreSQL', () => server.address)

test('models give on PostgreSQL what they give in the workbook', async () => {
  const numRuns = Number(process.env.RUNS ?? 60)
  const engine = engineOf(database)
  let held = 0
  await fc.assert(
    fc.asyncProperty(
      randomRows,
      fc.array(definition, { minLength: 1, maxLength: 8 }),
      fc.boolean(),
      async (rows, definitions, isAttached) => {
        const published = await publishedModel(engine, rows, definitions, isAttached)
        held += published.held
        expect(await differences(engine, published.book, published.model)).toEqual([])
      },
    ),
    { numRuns },
  )
  expect(held).toBeGreaterThan(numRuns * 2)
}, 14_400_000)

test('what is kept on PostgreSQL is, refreshed, what the rows give as they are now', async () => {
  const numRuns = Number(process.env.RUNS ?? 25)
  expect(await holdRefreshed([engineOf(database)], { numRuns })).toBeGreaterThan(numRuns * 2)
}, 14_400_000)

test('numbers of any size are the same texts', async () => {
  const book = new Workbook()
  const numbers = [1e308, -2.5e200, 1e21, 123_456_789_012_345_680_000, 0.1, 1e-7, 5e-300, 2.2e-308, 5e-324, 1.5, 100]
  book.applyJson([
    { op: 'add-table', table: 'kept', columns: ['n', 'kg'].map((name) => ({ name, type: 'number' })) },
    { op: 'insert-rows', table: 'kept', rows: numbers.map((kg, n) => ({ n, kg })) },
    { op: 'add-column', table: 'kept', column: { name: 'shown', formula: 'kg & ""' } },
  ])
  const engine = engineOf(database)
  expect(await differences(engine, book, await publishIn(engine, book))).toEqual([])
})

test('the commands of the page that need a server do what it says', async () => {
  const page = readFileSync(fileURLToPath(new URL('../../../../docs/scale-out.md', import.meta.url)), 'utf8')
  const commands = [...page.matchAll(/```sh\n([\s\S]*?)```/g)].flatMap(([, block = '']) => block.trim().split('\n'))
  const asked = commands.filter((line) => line.includes('postgresql://') || line.includes(' bees '))
  expect(asked.length).toBeGreaterThan(2)
  // Its role is called as that schema, so that new tables would go there.
  await database.run('drop schema if exists mellow cascade')
  for (const statement of manyHarvests(20_000, 'postgresql')) await database.run(statement)
  const folder = mkdtempSync(join(tmpdir(), 'page-'))
  const mellow = fileURLToPath(new URL('../../../cli/bin/mellow.js', import.meta.url))
  writeFileSync(join(folder, 'shards.json'), await shardsOfThePage(page))
  // The workbook remembers an address without the user.
  const env = { ...process.env, PGUSER: new URL(server.address).username }
  for (const line of asked) {
    const command = line.replaceAll('postgresql://db.example/bees', server.address)
    if (command.startsWith('mellow serve')) {
      await servesUntilEnded(command.split(' ').slice(1), { mellow, folder, env })
      continue
    }
    execFileSync('bash', ['-c', command.replace(/^mellow/, `'${process.execPath}' '${mellow}'`)], {
      cwd: folder,
      env,
      stdio: 'pipe',
    })
  }
  const [found] = await database.rows('select count(*) as n, count(sugar_kg) as known from coop.harvests')
  expect(found).toEqual({ n: 20_000, known: 19_980 })
  // Over two servers it is the same.
  const [spread] = await database.rows(
    'select count(*) as n, (select sugar from spread."harvests!tallies") - sum(sugar_kg) as off from spread.harvests',
  )
  expect([spread?.n, Math.abs(Number(spread?.off)) < 1e-6]).toEqual([20_000, true])
  // One that follows looks at once, and again when a trigger has noted something: long before it would by itself.
  const words = ['refresh', 'bees', '--schema', 'coop', '--follow', '--every', '600', '--times', '2', '--json']
  const follower = spawn(process.execPath, [mellow, ...words], { cwd: folder, env, stdio: ['ignore', 'pipe', 'inherit'] })
  const lines: string[] = []
  for await (const line of createInterface({ input: follower.stdout })) {
    lines.push(line)
    if (lines.length === 1) await database.run('update harvests set honey_kg = 7 where id = 5')
  }
  expect(lines.map((line) => JSON.parse(line).columns)).toEqual([
    [],
    [{ address: 'harvests.sugar_kg', calculated: 1, changed: 1 }],
  ])
  rmSync(folder, { recursive: true, force: true })
})

/** The file of the page that says how rows are spread, with databases of this server that have them so. */
async function shardsOfThePage(page: string): Promise<string> {
  const settings = JSON.parse(/```json\n([\s\S]*?)```/.exec(page)?.[1] ?? '') as ShardSettings
  await database.run('create extension if not exists postgres_fdw')
  const shards: Shard[] = []
  for (const [index, { server: name }] of settings.shards.entries()) {
    await database.run(`create database ${name}`)
    const address = server.address.replace(/[^/]+$/, name)
    const shard = await openDatabase(address)
    for (const statement of manyHarvests(20_000, 'postgresql')) await shard.run(statement)
    await shard.run(`delete from harvests where mod(ascii(right(hive, 1)), ${settings.shards.length}) <> ${index}`)
    await shard.close()
    const options = `host '127.0.0.1', port '${server.port}', dbname '${name}'`
    await database.run(`create server ${name} foreign data wrapper postgres_fdw options (${options})`)
    await database.run(`create user mapping for current_user server ${name} options (user 'mellow')`)
    shards.push({ server: name, address })
  }
  return JSON.stringify({ ...settings, shards })
}

/** Runs a server until it can be asked, and ends it. */
async function servesUntilEnded(
  words: readonly string[],
  { mellow, folder, env }: { readonly mellow: string; readonly folder: string; readonly env: NodeJS.ProcessEnv },
): Promise<void> {
  const child = spawn(process.execPath, [mellow, ...words, '--port', '0'], {
    cwd: folder,
    env,
    stdio: ['ignore', 'pipe', 'ignore'],
  })
  const ended = once(child, 'exit')
  for await (const line of createInterface({ input: child.stdout })) {
    expect((await fetch(`${line}/health/ready`)).status).toBe(200)
    child.kill('SIGTERM')
  }
  expect(await ended).toEqual([0, null])
}

test('of two publishers at once one is refused, and the other is done', async () => {
  const other = await openDatabase(server.address)
  await database.run('drop schema if exists mellow cascade')
  const both = await Promise.allSettled([publish(coop(), database, { book: 'coop' }), publish(coop(), other, { book: 'coop' })])
  await other.close()
  expect(both.map(({ status }) => status).sort()).toEqual(['fulfilled', 'rejected'])
  const refused = both.find((one) => one.status === 'rejected')
  expect(String(refused?.reason)).toContain('another publisher is at work')
})

test('nothing outside of the schema is touched', async () => {
  const outside = `select n.nspname, c.relname, c.relkind, c.xmin::text from pg_class c join pg_namespace n on n.oid = c.relnamespace
    where n.nspname not in ('mellow', 'pg_toast') and n.nspname not like 'pg_temp%' and n.nspname <> 'pg_catalog' order by 1, 2`
  await database.run('drop schema if exists mellow cascade; create table public.theirs (a int primary key)')
  const before = await database.rows(outside)
  await publish(coop(), database, { book: 'coop' })
  expect(await database.rows(outside)).toEqual(before)
  await database.run('drop table public.theirs')
})
