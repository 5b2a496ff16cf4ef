// What a report over rows that are spread over three servers of PostgreSQL costs, with the rows and bytes that go between them
// counted: by what each shard gathers, and with all rows brought to one place. Prints JSON. node scripts/bench-shards.mjs [rows a shard]
import { connect, createServer } from 'node:net'
import { manyHarvests } from '@mellow-abacus/demo'
import { openDatabase, publishOverShards } from '@mellow-abacus/sql'
import { Workbook } from 'mellow-abacus'
import { startServer } from '../packages/sql/tests/helpers/postgresql-server.mjs'
import { attachSample } from './attach-sample.mjs'

const ROWS = Number(process.argv[2] ?? 1_000_000)
const SHARDS = 3
const HIVE_OF = /\(cast\(i as bigint\) \* 7919 % \d+\)/

/** A port before another one, which counts what goes through it. */
async function counted(port) {
  const counts = { bytes: 0 }
  const server = createServer((socket) => {
    const there = connect(port, '127.0.0.1')
    there.on('data', (bytes) => {
      counts.bytes += bytes.length
    })
    socket.pipe(there).pipe(socket)
    for (const one of [socket, there]) one.on('error', () => one.destroy())
  })
  await new Promise((resolve) => server.listen(0, '127.0.0.1', resolve))
  return { counts, port: server.address().port, close: () => server.close() }
}

/** The statements that make the rows of one shard. */
function rowsOf(shard) {
  return manyHarvests(ROWS * SHARDS, 'postgresql').map((text) => {
    const hive = HIVE_OF.exec(text)?.[0]
    return hive === undefined ? text : `${text} where ${hive} % ${SHARDS} = ${shard}`
  })
}

const column = (table, name, formula) => ({ op: 'add-column', table, column: { name, formula } })

async function bookOver(database) {
  const book = new Workbook()
  for (const table of ['apiaries', 'hives', 'harvests']) await attachSample(book, table, database, 'public')
  book.applyJson([
    { op: 'add-link', table: 'hives', columns: ['yard'], to: 'apiaries', keys: ['code'] },
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
    column('harvests', 'per_frame', 'honey_kg per hive.frames'),
    column('hives', 'honey', 'sum(harvests.honey_kg)'),
    column('apiaries', 'honey', 'sum(harvests.honey_kg via hive.yard)'),
    column('apiaries', 'takes', 'count(harvests via hive.yard)'),
    column('apiaries', 'best', 'max(harvests.per_frame via hive.yard)'),
    { op: 'set-tally', table: 'harvests', name: 'heaviest', formula: 'max(honey_kg)' },
    { op: 'set-tally', table: 'harvests', name: 'usual', formula: 'mean(honey_kg)' },
  ])
  return book
}

/** Rows that foreign scans of a query bring. */
async function rowsBrought(database, query) {
  const [row] = await database.rows(`explain (analyze, format json) ${query}`)
  const plan = typeof row['QUERY PLAN'] === 'string' ? JSON.parse(row['QUERY PLAN']) : row['QUERY PLAN']
  const sum = (node) =>
    (node['Node Type'] === 'Foreign Scan' ? node['Actual Rows'] * node['Actual Loops'] : 0) +
    (node.Plans ?? []).reduce((all, one) => all + sum(one), 0)
  return sum(plan[0].Plan)
}

const servers = []
for (let index = 0; index <= SHARDS; index++) servers.push(await startServer())
const [coordinator, ...shards] = await Promise.all(servers.map(({ address }) => openDatabase(address)))
const ports = []
try {
  await Promise.all(
    shards.map(async (shard, index) => {
      for (const statement of rowsOf(index)) await shard.run(statement)
      await shard.run('vacuum analyze')
    }),
  )
  await coordinator.run('create extension postgres_fdw')
  for (const [index, { port }] of servers.slice(1).entries()) {
    const before = await counted(port)
    ports.push(before)
    await coordinator.run(
      `create server shard_${index + 1} foreign data wrapper postgres_fdw options (host '127.0.0.1', port '${before.port}', dbname 'postgres');
      create user mapping for current_user server shard_${index + 1} options (user 'mellow')`,
    )
  }
  const [{ n: rows }] = await Promise.all(shards.map((one) => one.rows('select count(*) as n from harvests'))).then((all) => [
    { n: all.reduce((sum, [{ n }]) => sum + n, 0) },
  ])
  const settings = {
    shards: servers.slice(1).map(({ address }, index) => ({ server: `shard_${index + 1}`, address })),
    tables: { harvests: ['hive'] },
  }
  const from = performance.now()
  const done = await publishOverShards(await bookOver(shards[0]), coordinator, openDatabase, { book: 'coop', settings })
  const publishedIn = performance.now() - from
  const bytes = () => ports.reduce((sum, { counts }) => sum + counts.bytes, 0)
  const reports = {}
  const queries = {
    'by apiary': 'select * from mellow.apiaries',
    'by hive': 'select * from mellow.hives',
    'of all rows': 'select * from mellow."harvests!tallies"',
    'all rows brought to one place': `select hive, sum(honey_kg) from (${[1, 2, 3].map((n) => `select hive, honey_kg from mellow."harvests!rows ${n}"`).join(' union all ')}) as h group by hive`,
  }
  for (const [name, query] of Object.entries(queries)) {
    const before = bytes()
    const began = performance.now()
    const { length: groups } = await coordinator.rows(query)
    const seconds = Math.round(performance.now() - began) / 1000
    reports[name] = { groups, seconds, bytes: bytes() - before, rowsBrought: await rowsBrought(coordinator, query) }
  }
  const places = Object.fromEntries(done.placed.map(({ address, place }) => [address, place]))
  console.log(JSON.stringify({ rows, shards: SHARDS, publishedIn: Math.round(publishedIn) / 1000, places, reports }, null, 1))
} finally {
  for (const { close } of ports) close()
  for (const one of [coordinator, ...shards]) await one.close()
  for (const server of servers) server.stop()
}
