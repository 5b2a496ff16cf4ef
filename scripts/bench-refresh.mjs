// What a refresh of kept columns costs against computing them anew, on DuckDB and, where it is installed, on a PostgreSQL server
// started here: rows are changed at random and refreshed. Prints JSON, a line an engine. node scripts/bench-refresh.mjs [rows] [changed]
import { existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { manyHarvests } from '@mellow-abacus/demo'
import { openDatabase, publish, refresh } from '@mellow-abacus/sql'
import { Workbook } from 'mellow-abacus'
import { startServer } from '../packages/sql/tests/helpers/postgresql-server.mjs'
import { attachSample } from './attach-sample.mjs'

const ROWS = Number(process.argv[2] ?? 1_000_000)
const CHANGED = Number(process.argv[3] ?? 1000)
const RUNS = 5
/** After so long no further run begins. */
const MOST_MS = 20_000

/** Columns of a row, over a link, of a group, of neighbours, and of linked rows. */
const FORMULAS = {
  harvests: {
    per_comb: 'honey_kg / combs',
    per_frame: 'honey_kg per hive.frames',
    share: 'honey_kg per sum(honey_kg by hive)',
    since_last: 'day - lag(day by hive order by day)',
  },
  hives: { honey: 'sum(harvests.honey_kg)', takes: 'count(harvests)' },
}
/** What is kept: without shares, whose change reaches all rows of a group, and with them. */
const KEPT = {
  'rows, links and totals': ['harvests.per_comb', 'harvests.per_frame', 'harvests.since_last', 'hives.honey', 'hives.takes'],
  'shares of groups': ['harvests.share'],
}

async function bookOver(database, schema) {
  const book = new Workbook()
  for (const table of ['hives', 'harvests']) await attachSample(book, table, database, schema)
  book.applyJson([
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
    ...Object.entries(FORMULAS).flatMap(([table, columns]) =>
      Object.entries(columns).map(([name, formula]) => ({ op: 'add-column', table, column: { name, formula } })),
    ),
  ])
  return book
}

/** The database, with the time that statements take. */
function watched(database) {
  const times = []
  const timed = (ask) => async (statement) => {
    const from = performance.now()
    const done = await ask(statement)
    times.push({ statement, ms: performance.now() - from })
    return done
  }
  return { times, database: { ...database, run: timed(database.run), rows: timed(database.rows) } }
}

const seconds = (ms) => Math.round(ms) / 1000
const median = (times) => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)]

async function bench(engine, address) {
  const plain = await openDatabase(address)
  for (const statement of manyHarvests(ROWS, engine)) await plain.run(statement)
  const schema = engine === 'duckdb' ? 'main' : 'public'
  if (engine === 'postgresql') await plain.run('vacuum analyze')
  const book = await bookOver(plain, schema)
  const { times, database } = watched(plain)
  const how = engine === 'duckdb' ? { since: 'entered' } : { triggers: true }
  for (const [what, kept] of Object.entries(KEPT))
    await benchKept({ what, kept, how, engine, schema, book, plain, database, times })
  await plain.close()
}

async function benchKept({ what, kept, how, engine, schema, book, plain, database, times }) {
  times.length = 0
  await publish(book, database, { book: 'coop', kept, ...how })
  const timeOf = (pattern) => times.reduce((sum, { statement, ms }) => sum + (pattern.test(statement) ? ms : 0), 0)
  const calculated = timeOf(/^create table \S+!kept".* as/)
  const anew = calculated + timeOf(/^(alter table|create index on|analyze) \S+!kept"/)
  await refresh(book, database, { book: 'coop' })
  const found = []
  for (let run = 0; run < RUNS && found.reduce((sum, one) => sum + one, 0) < MOST_MS; run++) {
    const first = Math.floor((ROWS / RUNS) * run)
    await plain.run(
      `update ${schema}.harvests set honey_kg = honey_kg + 0.25, entered = cast(now() as timestamp) where id >= ${first} and id < ${first + CHANGED}`,
    )
    times.length = 0
    const from = performance.now()
    const { columns } = await refresh(book, database, { book: 'coop' })
    found.push(performance.now() - from)
    if (run === 0)
      for (const one of columns) console.error(`${one.address}: ${one.calculated} calculated, ${one.changed} changed`)
  }
  if (process.env.SLOWEST !== undefined)
    for (const { statement, ms } of [...times].sort((a, b) => b.ms - a.ms).slice(0, Number(process.env.SLOWEST)))
      console.error(`${Math.round(ms)} ms: ${statement.slice(0, 1500)}\n`)
  const ms = median(found)
  console.log(
    JSON.stringify({
      engine,
      what,
      rows: ROWS,
      changed: CHANGED,
      calculated: seconds(calculated),
      anew: seconds(anew),
      refresh: seconds(ms),
      ratio: Math.round(anew / ms),
    }),
  )
}

const folder = mkdtempSync(join(tmpdir(), 'bench-refresh-'))
try {
  if (process.env.ENGINE !== 'postgresql') await bench('duckdb', `duckdb:${join(folder, 'bees.db')}`)
  if (process.env.ENGINE !== 'duckdb' && existsSync('/usr/lib/postgresql/15/bin/postgres')) {
    const server = await startServer()
    try {
      await bench('postgresql', server.address)
    } finally {
      server.stop()
    }
  }
} finally {
  rmSync(folder, { recursive: true, force: true })
}
