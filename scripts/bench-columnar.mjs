// First calculations beside an embedded columnar database: the same rows, keys in random order, two threads, the result kept as a
// table there. Pairs take turns. Run by itself or by `npm run bench`; prints a line of JSON each.
//   node scripts/bench-columnar.mjs [rows] [name of a work]
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { DuckDBInstance } from '@duckdb/node-api'
import { DEMO_SEED, SeededRandom } from '@mellow-abacus/demo'
import { Workbook } from 'mellow-abacus'

const [rows = '1000000', only = ''] = process.argv.slice(2)
const ROWS = Number(rows)
const HIVES = ROWS / 10
const PAIRS = 5

/** Each with the formula of a column, and the query that gives the same rows. */
const WORKS = [
  {
    name: 'a condition',
    formula: 'case when kg > 15 then kg * 2 when kg > 5 then kg else 0 end',
    query: 'select case when kg > 15 then kg * 2 when kg > 5 then kg else 0 end as x from harvests',
  },
  {
    name: 'a text joined',
    formula: 'tag & "/" & forage',
    query: "select tag || '/' || forage as x from harvests",
  },
  {
    name: 'a lookup along a link',
    formula: 'hive.frames',
    query: 'select h.frames as x from harvests r left join hives h on h.tag = r.tag',
  },
  {
    name: 'a total of linked rows',
    table: 'hives',
    formula: 'sum(harvests.kg)',
    query: 'select g.x from hives h left join (select tag, sum(kg) as x from harvests group by tag) as g on g.tag = h.tag',
  },
  {
    name: 'a total of each group',
    formula: 'sum(kg by tag)',
    query: 'select g.x from harvests r join (select tag, sum(kg) as x from harvests group by tag) as g on g.tag = r.tag',
  },
  {
    name: 'a share of each group',
    formula: 'share(kg by tag)',
    query:
      'select r.kg / g.total as x from harvests r join (select tag, sum(kg) as total from harvests group by tag) as g on g.tag = r.tag',
  },
  {
    name: 'the row before in each group',
    formula: 'lag(kg by tag order by taken)',
    query: 'select lag(kg) over (partition by tag order by taken) as x from harvests',
  },
  {
    name: 'a rank in each group',
    formula: 'rank(kg by tag)',
    query: 'select rank() over (partition by tag order by kg) as x from harvests',
  },
  {
    name: 'a running total of each group',
    formula: 'cumulative_sum(kg by tag order by taken)',
    query: 'select sum(kg) over (partition by tag order by taken rows unbounded preceding) as x from harvests',
  },
  {
    name: 'the median of each group',
    formula: 'median(kg by tag)',
    query: 'select g.x from harvests r join (select tag, median(kg) as x from harvests group by tag) as g on g.tag = r.tag',
  },
]

const random = new SeededRandom(DEMO_SEED)
const FORAGE = ['lime', 'clover', 'heather', 'willow', 'bramble']
const hives = Array.from({ length: HIVES }, (_, at) => ({ tag: `H-${at}`, frames: random.whole(4, 20) }))
const columns = { tag: [], forage: [], kg: [], taken: [] }
for (let at = 0; at < ROWS; at++) {
  columns.tag.push(`H-${random.whole(0, HIVES - 1)}`)
  columns.forage.push(FORAGE[random.whole(0, FORAGE.length - 1)])
  columns.kg.push(random.whole(1, 3000) / 100)
  columns.taken.push(random.whole(0, 2000))
}

function makeBook() {
  const book = new Workbook()
  const typed = (names) => Object.entries(names).map(([name, type]) => ({ name, type }))
  book.apply([
    { op: 'add-table', table: 'hives', columns: typed({ tag: 'text', frames: 'integer' }) },
    { op: 'add-table', table: 'harvests', columns: typed({ tag: 'text', forage: 'text', kg: 'number', taken: 'integer' }) },
    { op: 'insert-rows', table: 'hives', rows: hives },
    { op: 'insert-rows', table: 'harvests', block: columns },
    { op: 'add-link', table: 'harvests', name: 'hive', columns: ['tag'], to: 'hives', keys: ['tag'] },
  ])
  return book
}

async function makeDatabase() {
  const instance = await DuckDBInstance.create(':memory:', { threads: '2' })
  const connection = await instance.connect()
  await connection.run('create table hives (tag varchar, frames integer)')
  await connection.run('create table harvests (tag varchar, forage varchar, kg double, taken integer)')
  const hive = await connection.createAppender('hives')
  for (const { tag, frames } of hives) {
    hive.appendVarchar(tag)
    hive.appendInteger(frames)
    hive.endRow()
  }
  hive.closeSync()
  const harvest = await connection.createAppender('harvests')
  for (let at = 0; at < ROWS; at++) {
    harvest.appendVarchar(columns.tag[at])
    harvest.appendVarchar(columns.forage[at])
    harvest.appendDouble(columns.kg[at])
    harvest.appendInteger(columns.taken[at])
    harvest.endRow()
  }
  harvest.closeSync()
  return connection
}

const median = (times) => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)]

async function timed(work) {
  const from = performance.now()
  await work()
  return performance.now() - from
}

/** Works in turn with the database, a pair of them not counted. */
async function inPairs(name, ours, theirs) {
  const times = { ours: [], theirs: [], ratio: [] }
  for (let pair = 0; pair <= PAIRS; pair++) {
    const [one, other] = [await timed(ours), await timed(theirs)]
    if (pair === 0) continue
    times.ours.push(one)
    times.theirs.push(other)
    times.ratio.push(one / other)
  }
  const result = { name, rows: ROWS, ours: median(times.ours), theirs: median(times.theirs), ratio: median(times.ratio) }
  console.log(JSON.stringify(result))
}

const book = makeBook()
const connection = await makeDatabase()
for (const { name, table = 'harvests', formula, query } of WORKS) {
  if (!name.includes(only)) continue
  let isThere = false
  const ours = () => {
    book.apply({ op: 'add-column', table, column: { name: 'x', formula } })
    isThere = true
  }
  const theirs = async () => {
    if (isThere) book.apply({ op: 'remove-column', table, column: 'x' })
    isThere = false
    await connection.run('drop table if exists result')
    await connection.run(`create table result as ${query}`)
  }
  await inPairs(name, ours, theirs)
}

if ('a file calculated'.includes(only)) {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-columnar-'))
  const [given, made, other] = ['given', 'made', 'other'].map((name) => join(folder, `${name}.csv`))
  const number = (below) => `floor(random() * ${below})`
  await connection.run(
    `copy (select tag, forage, kg, taken, ${number(40)} as mites, ${number(4)} * 100 as sampled, ${number(9)} as brood, 'note ' || ${number(5)} as note from harvests) to '${given}' (header)`,
  )
  const tool = fileURLToPath(new URL('../packages/cli/bin/mellow.js', import.meta.url))
  const formulas = [
    'infestation = 100 * mites per sampled',
    'act = case when infestation is blank then "sample again" when infestation > 3 then "treat" else "wait" end',
    'load = round(infestation * kg, 2)',
  ]
  await inPairs(
    'a file calculated, CSV to CSV, whole process',
    () => {
      const { status, stderr } = spawnSync(process.execPath, [tool, 'calc', given, ...formulas, '-o', made], { encoding: 'utf8' })
      if (status !== 0) throw new Error(stderr)
    },
    () =>
      connection.run(
        `copy (select *, case when infestation is null then 'sample again' when infestation > 3 then 'treat' else 'wait' end as act, round(infestation * kg, 2) as load from (select *, 100 * mites / nullif(sampled, 0) as infestation from read_csv('${given}'))) to '${other}' (header)`,
      ),
  )
  rmSync(folder, { recursive: true })
}
connection.closeSync()
