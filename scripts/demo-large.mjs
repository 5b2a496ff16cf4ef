// The demo at size: a DuckDB file with ten million harvests, a sample of them in a workbook, formulas, and the model run over all
// rows. node scripts/demo-large.mjs [harvests] [folder]
import { spawnSync } from 'node:child_process'
import { existsSync, mkdirSync } from 'node:fs'
import { join, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import { manyHarvests } from '@mellow-abacus/demo'
import { openDatabase } from '@mellow-abacus/sql'

const count = Number(process.argv[2] ?? 10_000_000)
const folder = resolve(process.argv[3] ?? 'large-demo')
const mellow = fileURLToPath(new URL('../packages/cli/bin/mellow.js', import.meta.url))

if (existsSync(join(folder, 'bees.db'))) {
  console.error(`${folder} holds a demo already; remove it, or name another folder.`)
  process.exit(2)
}
mkdirSync(folder, { recursive: true })

const seconds = (from) => `${((performance.now() - from) / 1000).toFixed(1)} s`

async function inDatabase(work) {
  const database = await openDatabase(`duckdb:${join(folder, 'bees.db')}`)
  try {
    return await work(database)
  } finally {
    await database.close()
  }
}

/** Runs a command of the tool, shows it and how long it took, and ends where it fails. */
function run(...args) {
  const from = performance.now()
  console.log(`\n$ mellow ${args.map((one) => (/^[\w.:/=-]+$/.test(one) ? one : `'${one}'`)).join(' ')}`)
  const { status } = spawnSync(process.execPath, [mellow, ...args], { cwd: folder, stdio: ['ignore', 'inherit', 'inherit'] })
  if (status !== 0) process.exit(status ?? 3)
  console.log(`(${seconds(from)})`)
}

async function ask(query) {
  const from = performance.now()
  const rows = await inDatabase((database) => database.rows(query))
  console.log(`\n${query}`)
  console.table(rows)
  console.log(`(${seconds(from)})`)
}

const from = performance.now()
await inDatabase(async (database) => {
  for (const statement of manyHarvests(count, 'duckdb')) await database.run(statement)
})
console.log(`${count.toLocaleString('en')} harvests in ${join(folder, 'bees.db')} (${seconds(from)})`)

for (const table of ['apiaries', 'hives', 'harvests']) run('attach', 'coop', table, '--from', 'duckdb:bees.db')
run('link', 'coop', 'hives.yard -> apiaries.code')
run('link', 'coop', 'harvests.hive -> hives.tag')
run(
  'define',
  'coop',
  'harvests',
  'per_comb = honey_kg / combs',
  'per_frame = honey_kg per hive.frames',
  'share = honey_kg per sum(honey_kg by hive)',
)
run('define', 'coop', 'harvests', 'since_last = day - lag(day by hive order by day)')
run('define', 'coop', 'hives', 'honey = sum(harvests.honey_kg)', 'takes = count(harvests)')
run('tally', 'coop', 'harvests', 'heaviest = max(honey_kg)')
run('check', 'coop')
run(
  'show',
  'coop',
  'harvests',
  '--group',
  'hive.yard.name',
  '--tally',
  'honey = sum(honey_kg)',
  '--tally',
  'best = max(per_frame)',
)
run('publish', 'coop', '--to', 'duckdb:bees.db')
await ask(`select a.name, sum(h.honey) as honey_kg, sum(h.takes) as takes
from mellow.hives as h join apiaries as a on a.code = h.yard group by a.name order by honey_kg desc limit 5`)
await ask(`select "per_comb!fault" as fault, count(*) as harvests, max(per_comb) as best, max(since_last) as longest_pause
from mellow.harvests group by fault`)
run('publish', 'coop', '--to', 'duckdb:bees.db')

// What is asked for often is kept, and brought up to date where rows have changed.
run('publish', 'coop', '--to', 'duckdb:bees.db', '--kept', 'harvests.share,harvests.per_frame,hives.honey', '--since', 'entered')
await inDatabase((database) =>
  database.run(`update harvests set honey_kg = honey_kg + 0.5, entered = timestamp '2026-11-01 18:00:00'
where id % ${Math.max(1, Math.floor(count / 1000))} = 7`),
)
const kept = 'select id, hive, honey_kg, share from mellow.harvests where id = 7'
await ask(kept)
run('refresh', 'coop')
await ask(kept)
