// How long the views of a published model take against SQL written by hand for the same columns, on DuckDB and, where it is
// installed, on a PostgreSQL server started here. Prints JSON, a line a query.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openDatabase, publish } from '@mellow-abacus/sql'
import { Workbook } from 'mellow-abacus'
import { startServer } from '../packages/sql/tests/helpers/postgresql-server.mjs'
import { attachSample } from './attach-sample.mjs'

const ROWS = Number(process.argv[2] ?? 1_000_000)
const RUNS = 5

/** A query: what is asked of the view, the formulas behind it, and the same by hand. */
const QUERIES = [
  {
    name: 'arithmetic',
    columns: { worth: 'kg * 9.5 + lot' },
    ask: 'select sum(worth) from harvests',
    hand: 'select sum(kg * 9.5 + lot) from bees.harvests',
  },
  {
    name: 'a division',
    columns: { each: 'kg / lot' },
    ask: 'select sum("each") from harvests',
    hand: 'select sum(case when lot <> 0 then kg / lot end) from bees.harvests',
  },
  {
    name: 'conditions',
    columns: { band: "case when kg > 15 then 'high' when kg > 5 then 'middle' else 'low' end" },
    ask: 'select band, count(*) from harvests group by band',
    hand: "select case when kg > 15 then 'high' when kg > 5 then 'middle' else 'low' end as band, count(*) from bees.harvests group by band",
  },
  {
    name: 'dates',
    columns: { month: 'month(taken)', age: '@2026-12-31 - taken' },
    ask: 'select sum("month"), sum(age) from harvests',
    hand: "select sum(extract(month from taken)), sum(date '2026-12-31' - taken) from bees.harvests",
  },
  {
    name: 'texts',
    columns: { label: 'hive & "/" & grade' },
    ask: 'select max(label) from harvests',
    hand: "select max(hive || '/' || grade) from bees.harvests",
  },
  {
    name: 'a link',
    columns: { frames: 'hive.frames' },
    ask: 'select sum(frames) from harvests',
    hand: 'select sum(h.frames) from bees.harvests r left join bees.hives h on h.tag = r.hive',
  },
  {
    name: 'a link and a division',
    columns: { per_frame: 'kg / hive.frames' },
    ask: 'select sum(per_frame) from harvests',
    hand: 'select sum(case when h.frames <> 0 then r.kg / h.frames end) from bees.harvests r left join bees.hives h on h.tag = r.hive',
  },
  {
    name: 'a share of a total by key',
    columns: { share: 'kg per sum(kg by hive)' },
    ask: 'select max(share) from harvests',
    hand: 'select max(kg / nullif(total, 0)) from (select kg, sum(kg) over (partition by hive) as total from bees.harvests) as q',
  },
  {
    name: 'earlier rows and running totals',
    columns: { before: 'lag(lot by hive order by taken, id)', so_far: 'cumulative_sum(lot by hive order by taken, id)' },
    ask: 'select sum(before), max(so_far) from harvests',
    hand: 'select sum(before), max(so_far) from (select lag(lot) over w as before, sum(lot) over w as so_far from bees.harvests window w as (partition by hive order by taken, id)) as q',
  },
  {
    name: 'totals of linked rows',
    table: 'hives',
    columns: { honey: 'sum(harvests.kg)', takes: 'count(harvests)', most: 'max(harvests.kg)' },
    ask: 'select sum(honey), sum(takes), max(most) from hives',
    hand: 'select sum(honey), sum(coalesce(takes, 0)), max(most) from bees.hives h left join (select hive, sum(kg) as honey, count(*) as takes, max(kg) as most from bees.harvests group by hive) as g on g.hive = h.tag',
  },
]

function makeTables({ dialect }) {
  const numbers = (count) => (dialect.name === 'duckdb' ? `range(${count}) as r(i)` : `generate_series(0, ${count - 1}) as r(i)`)
  return [
    'drop schema if exists mellow cascade',
    'drop schema if exists bees cascade',
    'create schema bees',
    'create table bees.hives (tag text primary key, frames integer not null)',
    `insert into bees.hives select 'H-' || i, i % 20 from ${numbers(ROWS / 100)}`,
    'create table bees.harvests (id bigint primary key, hive text not null, kg double precision, lot integer not null, grade text, taken date not null)',
    `insert into bees.harvests select i, 'H-' || cast(i as bigint) * 7919 % ${ROWS / 100}, (i % 200) / 10.0, i % 7, 'grade ' || i % 5, date '2020-01-01' + cast(i % 2000 as integer) from ${numbers(ROWS)}`,
    dialect.name === 'duckdb' ? 'analyze' : 'vacuum analyze',
  ]
}

async function timed(database, query) {
  const from = performance.now()
  await database.rows(query)
  return performance.now() - from
}

const median = (times) => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)]

async function bench(engine, address) {
  const database = await openDatabase(address)
  for (const statement of makeTables(database)) await database.run(statement)
  const original = new Workbook()
  await attachSample(original, 'hives', database, 'bees')
  await attachSample(original, 'harvests', database, 'bees')
  original.applyJson({ op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] })
  for (const { name, table = 'harvests', columns, ask, hand } of QUERIES) {
    for (const [column, formula] of Object.entries(columns))
      original.applyJson({ op: 'add-column', table, column: { name: column, formula } })
    await publish(original, database, { book: 'bench' })
    for (const column of Object.keys(columns).reverse()) original.applyJson({ op: 'remove-column', table, column })
    const view = ask.replace(/from (\w+)/, 'from mellow.$1')
    const times = { view: [], hand: [], ratio: [] }
    for (let run = 0; run <= RUNS; run++) {
      const [ours, theirs] = [await timed(database, view), await timed(database, hand)]
      if (run === 0) continue
      times.view.push(ours)
      times.hand.push(theirs)
      times.ratio.push(ours / theirs)
    }
    console.log(JSON.stringify({ engine, name, view: median(times.view), hand: median(times.hand), ratio: median(times.ratio) }))
  }
  await database.close()
}

function hasPostgresql() {
  try {
    execFileSync('pg_config', ['--bindir'], { stdio: 'ignore' })
    return true
  } catch {
    return false
  }
}

const folder = mkdtempSync(join(tmpdir(), 'mellow-bench-sql-'))
await bench('DuckDB', `duckdb:${join(folder, 'bench.db')}`)
rmSync(folder, { recursive: true, force: true })
if (hasPostgresql()) {
  const server = await startServer()
  try {
    await bench('PostgreSQL', server.address)
  } finally {
    server.stop()
  }
}
