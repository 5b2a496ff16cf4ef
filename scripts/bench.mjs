// Benchmarks as ratios against something known, measured in one run on one machine: pairs take turns, so that both sides feel
// the same noise, and medians are quoted. Prints a table; with --write keeps it in docs/benchmarks.md.
import { execFileSync, spawnSync } from 'node:child_process'
import { createReadStream, existsSync, mkdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { DuckDBInstance } from '@duckdb/node-api'
import { DEMO_SEED, SeededRandom } from '@mellow-abacus/demo'
import { BookFile } from '@mellow-abacus/files'
import { Workbook } from 'mellow-abacus'
import Papa from 'papaparse'

const root = fileURLToPath(new URL('..', import.meta.url))
const folder = join(tmpdir(), 'mellow-bench')
mkdirSync(folder, { recursive: true })

const median = (times) => [...times].sort((a, b) => a - b)[Math.floor(times.length / 2)]
const ms = (time) => (time < 10 ? `${time.toFixed(2)} ms` : `${Math.round(time).toLocaleString('en')} ms`)
const results = []
const row = (work, ours, against, ratio, target) => {
  results.push({ work, ours, against, ratio, target })
  console.log(`${work}: ${ours} against ${against}, ratio ${ratio} (target ${target})`)
}

/** Runs two things in turn, some pairs to warm up, and gives the medians of their times and of the ratios of each pair. */
async function inTurn(runs, one, other, warmUps = 1) {
  const times = { one: [], other: [], ratio: [] }
  for (let run = 1 - warmUps; run <= runs; run++) {
    const a = await timed(one)
    const b = await timed(other)
    if (run > 0)
      for (const [key, value] of [
        ['one', a],
        ['other', b],
        ['ratio', a / b],
      ])
        times[key].push(value)
  }
  return { one: median(times.one), other: median(times.other), ratio: median(times.ratio) }
}

async function timed(work) {
  const from = performance.now()
  await work()
  return performance.now() - from
}

/** One million inspections, eight columns, about 50 MB. */
function largeFile() {
  const path = join(folder, 'inspections-1m.csv')
  if (existsSync(path)) return path
  const random = new SeededRandom(DEMO_SEED)
  const notes = ['calm', 'laying well', 'queen not seen', '', 'moth in corner']
  const lines = ['hive,seen,mites,bees_sampled,brood,stores_kg,temper,note']
  const two = (value) => String(value).padStart(2, '0')
  for (let index = 0; index < 1e6; index++) {
    const hive = `LM-${random.whole(1, 99)}-${random.whole(21, 26)}`
    const seen = `2026-${two(random.whole(1, 12))}-${two(random.whole(1, 28))}`
    const counts = `${random.chance(0.05) ? '' : random.whole(0, 40)},${random.whole(0, 3) * 100},${random.whole(1, 9)}`
    lines.push(
      `${hive},${seen},${counts},${random.decimal(1, 30, 2).toFixed(2)},${random.decimal(0, 1, 4)},${random.pick(notes)}`,
    )
  }
  writeFileSync(path, `${lines.join('\n')}\n`)
  return path
}

async function benchCalc() {
  const path = largeFile()
  const output = join(folder, 'calculated.csv')
  const formulas = [
    'infestation = 100 * mites per bees_sampled',
    'act = case when infestation is blank then "sample again" when infestation > 3 then "treat" else "wait" end',
    'load = round(infestation * stores_kg, 2)',
  ]
  let peak = 0
  const calc = () => {
    const run = spawnSync(
      '/usr/bin/env',
      [
        'bash',
        '-c',
        'exec "$@" & child=$!; peak=0; while kill -0 $child 2>/dev/null; do now=$(awk "/VmHWM/{print \\$2}" /proc/$child/status 2>/dev/null); [ -n "$now" ] && peak=$now; sleep 0.05; done; wait $child || exit 1; echo $peak',
        'bench',
        process.execPath,
        join(root, 'packages/cli/bin/mellow.js'),
        'calc',
        path,
        ...formulas,
        '-o',
        output,
      ],
      { encoding: 'utf8' },
    )
    if (run.status !== 0) throw new Error(run.stderr)
    peak = Math.max(peak, Number(run.stdout.trim()) / 1024)
  }
  const parse = () =>
    new Promise((resolve) => {
      let rows = 0
      Papa.parse(createReadStream(path), { step: () => rows++, complete: () => resolve(rows) })
    })
  const { one, other, ratio } = await inTurn(5, calc, parse)
  const size = (statSync(path).size / 1e6).toFixed(0)
  row(
    `\`mellow calc\`, 1 M rows × 8 columns (${size} MB), three formulas, CSV out, whole process`,
    ms(one),
    `papaparse's streaming parse alone ${ms(other)}`,
    `${ratio.toFixed(2)} ×`,
    '≤ 5 × (3 × later)',
  )
  row('its peak memory', `${Math.round(peak)} MB`, '–', '–', 'under 1 500 MB')
}

function benchBook(rowCount) {
  const random = new SeededRandom(DEMO_SEED)
  const book = new Workbook()
  const numbers = (low, high) => Array.from({ length: rowCount }, () => random.whole(low, high))
  book.apply([
    {
      op: 'add-table',
      table: 't',
      columns: [
        { name: 'a', type: 'number' },
        { name: 'b', type: 'number' },
        { name: 't', type: 'text' },
        { name: 'd', type: 'date' },
      ],
    },
    {
      op: 'insert-rows',
      table: 't',
      block: {
        a: numbers(0, 300).map((value) => (value % 20 === 0 ? null : value)),
        b: numbers(0, 9),
        t: numbers(1, 99).map((value) => `LM-${value}`),
        d: numbers(1, 28).map((value) => `2026-03-${String(value).padStart(2, '0')}`),
      },
    },
  ])
  return book
}

/** Row formulas of the kinds that tables are full of, each against the loop one would write by hand over typed arrays. */
async function benchRowFormulas() {
  const count = 1_000_000
  const book = benchBook(count)
  const a = book.table('t').column('a').values()
  const left = Float64Array.from(a, (value) => value ?? 0)
  const leftStatus = Uint8Array.from(a, (value) => (value === null ? 1 : 0))
  const [rightStatus, dayStatus] = [new Uint8Array(count), new Uint8Array(count)]
  const right = Float64Array.from(book.table('t').column('b').values())
  const texts = book.table('t').column('t').values()
  const days = Int32Array.from(book.table('t').column('d').values(), (day) => Date.parse(`${day}T00:00:00Z`) / 86_400_000)
  const values = new Float64Array(count)
  const status = new Uint8Array(count)
  const joined = new Array(count).fill('')
  const loops = {
    '0.5*a*b*b - a': () => {
      for (let row = 0; row < count; row++) {
        status[row] = leftStatus[row] | rightStatus[row]
        if (status[row] === 0) values[row] = 0.5 * left[row] * right[row] * right[row] - left[row]
      }
    },
    'case when b > 5 then 0.5*a*b*b - a else a / b end': () => {
      for (let row = 0; row < count; row++) {
        if (leftStatus[row] !== 0 || rightStatus[row] !== 0) status[row] = 1
        else {
          const [x, y] = [left[row], right[row]]
          if (y > 5) values[row] = 0.5 * x * y * y - x
          else if (y === 0) {
            status[row] = 2
            continue
          } else values[row] = x / y
          status[row] = 0
        }
      }
    },
    "join('-', t, b)": () => {
      for (let row = 0; row < count; row++) {
        joined[row] = `${texts[row]}-${right[row]}`
        status[row] = 0
      }
    },
    'days_between(@2026-03-01, d)': () => {
      for (let row = 0; row < count; row++) {
        status[row] = dayStatus[row]
        if (status[row] === 0) values[row] = days[row] - 20_513
      }
    },
  }
  for (const [formula, byHand] of Object.entries(loops)) {
    // All of it: check, compile, compute every row, compare with what was there, count the watched places.
    book.apply({ op: 'add-column', table: 't', column: { name: 'x', formula } })
    const engine = () => book.apply({ op: 'change-column', table: 't', column: 'x', set: { formula: `${formula} // again` } })
    const { one, other, ratio } = await inTurn(21, engine, byHand, 20)
    book.apply({ op: 'remove-column', table: 't', column: 'x' })
    row(
      `row formula, 1 M rows: \`${formula}\`, as one operation`,
      ms(one),
      `hand-written loop ${ms(other)}`,
      `${ratio.toFixed(1)} ×`,
      '≤ 3 ×',
    )
  }
}

/** Formulas of 20 000 characters, and what an editor asks at every key in a book of 200 columns. */
function benchLanguage() {
  const book = new Workbook()
  const columns = Array.from({ length: 200 }, (_, index) => ({
    name: `column_${index}`,
    type: index % 3 === 0 ? 'text' : 'number',
  }))
  book.apply({ op: 'add-table', table: 't', columns })
  book.apply({
    op: 'insert-rows',
    table: 't',
    rows: Array.from({ length: 100 }, (_, row) => ({ column_1: row, column_3: 'LM' })),
  })
  const language = book.language('t')
  const warm = (work) => {
    for (let run = 0; run < 20; run++) work()
    return median(Array.from({ length: 9 }, () => timedNow(work)))
  }
  const long = {
    'a sum of 2 200 columns': `column_1${'+column_1'.repeat(2200)}`,
    '3 900 unknown names': `nope${'+nopx'.repeat(3900)}`,
    '1 100 calls': `${'round(column_1) + '.repeat(1100)}1`,
    '790 branches': `case ${'when column_1 > 1 then 2 '.repeat(790)}end`,
    '9 000 members of in': `column_1 in (${'1,'.repeat(9000)}1)`,
    '700 aggregates': `${'sum(column_1 by column_3) + '.repeat(700)}1`,
    '190 nested choices': `${'if(column_1 > 1, '.repeat(190)}1${', 2)'.repeat(190)}`,
  }
  const times = Object.entries(long).map(([name, text]) => ({ name, time: warm(() => language.findings(text)) }))
  const worst = times.reduce((most, one) => (one.time > most.time ? one : most))
  row(
    `parsing and checking 20 000 characters, the worst of ${times.length} kinds (${worst.name})`,
    ms(worst.time),
    '–',
    '–',
    '50 ms',
  )
  const formula = 'case when column_1 > 3 then column_3 else left(column_3, 2) end'
  const checking = warm(() => language.findings(formula))
  const completing = warm(() => language.complete('case when col', 13))
  row('checking and completing in a book of 200 columns', `${ms(checking)} and ${ms(completing)}`, '–', '–', '5 ms')
}

function timedNow(work) {
  const from = performance.now()
  work()
  return performance.now() - from
}

/** Rainy days between two dates of each row: a counted range in another table. */
function benchRange() {
  const days = 4000
  const iso = (day) => new Date(Date.UTC(2016, 0, 1 + day)).toISOString().slice(0, 10)
  const random = new SeededRandom(DEMO_SEED)
  const rain = Array.from({ length: days }, () => random.whole(0, 9))
  const build = (rowCount) => {
    const book = new Workbook()
    const from = Array.from({ length: rowCount }, () => random.whole(0, days - 40))
    const column = (name) => ({ name, type: 'date' })
    book.apply([
      { op: 'add-table', table: 'weather', columns: [column('day'), { name: 'rain_mm', type: 'number' }] },
      { op: 'add-table', table: 'visits', columns: [column('last_seen'), column('seen')] },
      { op: 'insert-rows', table: 'weather', block: { day: rain.map((_, day) => iso(day)), rain_mm: rain } },
      { op: 'insert-rows', table: 'visits', block: { last_seen: from.map(iso), seen: from.map((day) => iso(day + 30)) } },
    ])
    return { book, from }
  }
  const formula = 'count(every weather where day > this.last_seen and day <= this.seen and rain_mm > 1)'
  const define = (book) => timedNow(() => book.apply({ op: 'add-column', table: 'visits', column: { name: 'wet', formula } }))
  define(build(1000).book)
  const small = define(build(100_000).book)
  const { book, from } = build(1_000_000)
  const large = define(book)
  // The nested loop over a thousandth of the rows.
  const nested =
    1000 *
    timedNow(() => {
      for (let row = 0; row < from.length; row += 1000) {
        let wet = 0
        for (let day = 0; day < days; day++) if (day > from[row] && day <= from[row] + 30 && rain[day] > 1) wet++
        if (wet < 0) throw new Error('a count is never negative')
      }
    })
  row(
    'conditional count over a date range, 1 M rows × 4 k days',
    ms(large),
    `100 k rows ${ms(small)}; nested loop ${ms(nested)}, from a thousandth of it`,
    `${(large / small).toFixed(1)} × for 10 × the rows`,
    'grows with rows × log days',
  )
  // From wet to dry or back, so that every edit reaches the visits around the day.
  const edit = (day, mm) =>
    timedNow(() => book.apply({ op: 'set-cells', table: 'weather', cells: [{ row: day, column: 'rain_mm', value: mm }] }))
  const turn = (at) => {
    const day = 1000 + 7 * at
    return edit(day, rain[day - 1] > 1 ? 0 : 9)
  }
  const first = turn(0)
  const edits = median(Array.from({ length: 19 }, (_, at) => turn(at + 1)))
  row(
    'an edit of one of those days, about 7 500 visits around it',
    ms(edits),
    `all of it ${ms(large)}; the first edit, which puts the visits in order, ${ms(first)}`,
    `${(edits / large).toFixed(3)} ×`,
    'touches only its readers',
  )
  const total = 'sum(every weather.rain_mm where day > this.last_seen and day <= this.seen)'
  const sums = timedNow(() => book.apply({ op: 'add-column', table: 'visits', column: { name: 'rain', formula: total } }))
  row(
    'totals over a date range, 1 M rows × 4 k days',
    ms(sums),
    `counts ${ms(large)}`,
    `${(sums / large).toFixed(1)} ×`,
    'grows with rows × log days',
  )
}

/** Functions that look at neighbours: all rows, and an edit, which returns before what it moves is calculated. */
function benchOrdered() {
  const book = largeBook(1_000_000, [])
  const parts = ['lag(kg)', 'moving_sum(kg, 7)', 'rank(kg)', 'cumulative_sum(kg by hive)'].map((formula) => {
    const all = timedNow(() => book.apply({ op: 'add-column', table: 'harvests', column: { name: 'x', formula } }))
    let value = 0
    const edit = () =>
      book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 500_000, column: 'kg', value: value++ + 0.5 }] })
    edit()
    const edits = median(Array.from({ length: 49 }, () => timedNow(edit)))
    book.apply({ op: 'remove-column', table: 'harvests', column: 'x' })
    return `\`${formula}\` ${ms(all)}, an edit ${ms(edits)}`
  })
  row('neighbouring rows, 1 M rows, groups of ten', parts.join('; '), '–', '–', 'an edit returns at once')
}

/** Harvests of hives, ten a hive: totals by group and over a link, and a lookup over it. */
function linkedBook(rowCount, columns) {
  const random = new SeededRandom(DEMO_SEED)
  const hiveCount = rowCount / 10
  const hive = Array.from({ length: rowCount }, () => `h${random.whole(0, hiveCount - 1)}`)
  const kg = Array.from({ length: rowCount }, () => random.whole(1, 3000) / 100)
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'tag', type: 'text' },
        { name: 'frames', type: 'number' },
      ],
    },
    {
      op: 'add-table',
      table: 'harvests',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'kg', type: 'number' },
      ],
    },
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
    {
      op: 'insert-rows',
      table: 'hives',
      block: {
        tag: Array.from({ length: hiveCount }, (_, index) => `h${index}`),
        frames: Array.from({ length: hiveCount }, (_, index) => index % 12),
      },
    },
    { op: 'insert-rows', table: 'harvests', block: { hive, kg } },
    ...columns,
  ])
  return { book, hive, kg }
}

async function benchTotals() {
  const { book, hive, kg } = linkedBook(1_000_000, [])
  const define = (table, formula) => () => {
    book.apply({ op: 'add-column', table, column: { name: 'x', formula } })
    book.apply({ op: 'remove-column', table, column: 'x' })
  }
  const byHand = () => {
    const totals = new Map()
    for (let row = 0; row < hive.length; row++) totals.set(hive[row], (totals.get(hive[row]) ?? 0) + kg[row])
    const result = new Float64Array(hive.length)
    for (let row = 0; row < hive.length; row++) result[row] = totals.get(hive[row])
    return result
  }
  const frames = new Map(Array.from({ length: 100_000 }, (_, index) => [`h${index}`, index % 12]))
  const lookUp = () => {
    const result = new Float64Array(hive.length)
    for (let row = 0; row < hive.length; row++) result[row] = frames.get(hive[row]) ?? Number.NaN
    return result
  }
  for (const [work, ours, loop] of [
    ['group totals, 1 M rows in 100 k groups: `sum(kg by hive)`', define('harvests', 'sum(kg by hive)'), byHand],
    [
      'totals of linked rows, 1 M rows to 100 k: `sum(harvests.kg)`, the keys of the link in order already',
      define('hives', 'sum(harvests.kg)'),
      byHand,
    ],
    [
      'linked lookup, 1 M rows to 100 k: `hive.frames`, the keys of the link in order already',
      define('harvests', 'hive.frames'),
      lookUp,
    ],
  ]) {
    const { one, other, ratio } = await inTurn(5, ours, loop, 2)
    row(work, ms(one), `hand-written Map loop ${ms(other)}`, `${ratio.toFixed(1)} ×`, '≤ 1.5 ×')
  }
}

/** Three levels of ten thousand groups over a million rows: a report opened and read, against one column of the same groups. */
async function benchReport() {
  const random = new SeededRandom(DEMO_SEED)
  const rowCount = 1_000_000
  const among = (prefix, count) => Array.from({ length: rowCount }, () => `${prefix}${random.whole(1, count)}`)
  const [site, forage, keeper] = [among('s', 20), among('f', 25), among('k', 20)]
  const kg = Float64Array.from({ length: rowCount }, () => random.whole(1, 3000) / 100)
  const book = new Workbook()
  const columns = ['site', 'forage', 'keeper'].map((name) => ({ name, type: 'text' }))
  book.apply([
    { op: 'add-table', table: 'harvests', columns: [...columns, { name: 'kg', type: 'number' }] },
    {
      op: 'insert-rows',
      table: 'harvests',
      block: {
        site,
        forage,
        keeper,
        kg,
      },
    },
    {
      op: 'set-report',
      name: 'r',
      report: {
        table: 'harvests',
        levels: [{ key: 'site' }, { key: 'forage' }, { key: 'keeper' }],
        tallies: [{ name: 'total', formula: 'sum(kg)' }],
        lines: [{ name: 'part', formula: 'total per parent.total' }],
      },
    },
  ])
  const read = () => {
    const report = book.report('r')
    const { length } = report.current.lines
    report()
    return length
  }
  const column = () => {
    const formula = 'sum(kg by site, forage, keeper)'
    book.apply({ op: 'add-column', table: 'harvests', column: { name: 'x', formula } })
    book.apply({ op: 'remove-column', table: 'harvests', column: 'x' })
  }
  const { one, other, ratio } = await inTurn(5, read, column, 1)
  const lines = read()
  row(
    `report of three levels, 1 M rows, ${lines.toLocaleString('en')} lines: opened and read`,
    ms(one),
    `one column \`sum(kg by site, forage, keeper)\` ${ms(other)}`,
    `${ratio.toFixed(1)} ×`,
    '≤ 1.5 ×',
  )
  const grouped = await groupingInDatabase({ site, forage, keeper, kg })
  const beside = await inTurn(5, read, grouped.group, 1)
  row(
    'the same report, beside an embedded columnar database (two threads) that groups by the same keys with subtotals and reads them',
    ms(beside.one),
    `\`group by rollup\` ${ms(beside.other)}`,
    `${beside.ratio.toFixed(1)} ×`,
    'for the record',
  )
  grouped.close()
  const report = book.report('r')
  report.current
  let told = 0
  report.subscribe(({ groups }) => {
    told += groups?.length ?? 0
  })
  const edit = () => {
    const cells = [{ row: random.whole(1, rowCount), column: 'kg', value: random.whole(1, 3000) / 100 }]
    book.apply({ op: 'set-cells', table: 'harvests', cells })
  }
  const edits = Array.from({ length: 300 }, () => timedNow(edit))
  const reads = Array.from({ length: 30 }, () => {
    edit()
    return timedNow(() => report.current)
  })
  row(
    'an edit under that report, open: its groups are told of',
    ms(median(edits)),
    `all its lines read again ${ms(median(reads))}, ${told / 330} groups told an edit`,
    '–',
    'under 1 ms',
  )
}

/** The same rows in an embedded columnar database, and the same groups with their parts of the group around them. */
async function groupingInDatabase({ site, forage, keeper, kg }) {
  const instance = await DuckDBInstance.create(':memory:', { threads: '2' })
  const connection = await instance.connect()
  await connection.run('create table harvests (site varchar, forage varchar, keeper varchar, kg double)')
  const appender = await connection.createAppender('harvests')
  for (let at = 0; at < kg.length; at++) {
    for (const text of [site, forage, keeper]) appender.appendVarchar(text[at])
    appender.appendDouble(kg[at])
    appender.endRow()
  }
  appender.closeSync()
  const query = `
    with groups as (
      select site, forage, keeper, grouping(site, forage, keeper) as level, sum(kg) as total
      from harvests group by rollup (site, forage, keeper)
    )
    select g.*, g.total / outer_group.total as part from groups g left join groups outer_group on
      outer_group.level = case g.level when 0 then 1 when 1 then 3 when 3 then 7 end
      and (g.level = 3 or outer_group.site = g.site) and (g.level <> 0 or outer_group.forage = g.forage)
    order by g.site, g.forage, g.keeper`
  return {
    group: async () => (await connection.runAndReadAll(query)).getRows().length,
    close: () => connection.closeSync(),
  }
}

/** Harvests and hives as typed arrays, so that ten million rows come in at once. */
function largeBook(rowCount, columns) {
  const hiveCount = rowCount / 10
  const book = new Workbook()
  const number = (name) => ({ name, type: 'number' })
  book.apply([
    { op: 'add-table', table: 'hives', columns: [number('tag'), number('frames')] },
    { op: 'add-table', table: 'harvests', columns: [number('hive'), number('kg')] },
    { op: 'add-link', table: 'harvests', columns: ['hive'], to: 'hives', keys: ['tag'] },
    {
      op: 'insert-rows',
      table: 'hives',
      block: {
        tag: Int32Array.from({ length: hiveCount }, (_, index) => index),
        frames: Int8Array.from({ length: hiveCount }, (_, index) => index % 12),
      },
    },
    {
      op: 'insert-rows',
      table: 'harvests',
      block: {
        hive: Int32Array.from({ length: rowCount }, (_, index) => (index * 31) % hiveCount),
        kg: Float64Array.from({ length: rowCount }, (_, index) => ((index * 7919) % 3000) / 100),
      },
    },
    ...columns,
  ])
  return book
}

function benchEdit() {
  const chain = Array.from({ length: 10 }, (_, index) => ({
    op: 'add-column',
    table: 'harvests',
    column: { name: `c${index + 1}`, formula: index === 0 ? 'kg * 2' : `c${index} * 1.5 + kg` },
  }))
  const others = [
    { op: 'add-column', table: 'harvests', column: { name: 'total', formula: 'sum(c10 by hive)' } },
    { op: 'add-column', table: 'hives', column: { name: 'mean_kg', formula: 'mean(harvests.c5)' } },
    { op: 'add-column', table: 'harvests', column: { name: 'per_frame', formula: 'kg per hive.frames' } },
  ]
  const time = (rowCount) => {
    const columns = [...chain, ...others]
    const book = largeBook(rowCount, columns)
    let value = 0
    const edit = () =>
      book.apply({
        op: 'set-cells',
        table: 'harvests',
        cells: [{ row: 1 + ((value * 7919) % rowCount), column: 'kg', value: (value++ % 300) + 0.5 }],
      })
    for (let warm = 0; warm < 3000; warm++) edit()
    const edits = median(Array.from({ length: 3000 }, () => timedNow(edit)))
    const insert = () => {
      const change = book.apply({ op: 'insert-rows', table: 'harvests', rows: [{ hive: 1, kg: 2 }], before: rowCount / 2 })
      book.apply({ op: 'remove-rows', table: 'harvests', rows: change.inserted[0].ids })
    }
    insert()
    const inserts = median(Array.from({ length: 9 }, () => timedNow(insert)))
    // All of it again: the same columns made anew.
    const names = columns.map(({ table, column }) => ({ table, column: column.name })).reverse()
    const full = () => {
      for (const place of names) book.apply({ op: 'remove-column', ...place })
      return timedNow(() => book.apply(columns))
    }
    return { edits, inserts, full: rowCount > 1_000_000 ? null : full() }
  }
  const [small, middle, large] = [time(10_000), time(1_000_000), time(10_000_000)]
  const micro = (time) => `${(time * 1000).toFixed(0)} µs`
  row(
    'one cell edit through 10 dependent row columns, 2 aggregates over groups of ten and 1 link, 10 M rows',
    micro(large.edits),
    `the same at 1 M rows ${micro(middle.edits)}, at 10 k rows ${micro(small.edits)}`,
    `${(large.edits / small.edits).toFixed(2)} ×`,
    '≤ 2 ×; 50 µs',
  )
  row(
    'that edit at 1 M rows',
    micro(middle.edits),
    `all of it calculated again ${ms(middle.full)}`,
    `${Math.round(middle.full / middle.edits).toLocaleString('en')} × cheaper`,
    '≥ 1 000 ×',
  )
  row(
    'a row inserted in the middle and removed again, 10 M rows',
    ms(large.inserts),
    `the same at 1 M rows ${ms(middle.inserts)}, at 10 k rows ${ms(small.inserts)}`,
    `${(large.inserts / small.inserts).toFixed(1)} ×`,
    '≤ 3 ×',
  )
}

/** An edit that moves every cell of two columns: it returns at once, and the rest is calculated while nobody waits. */
function benchFanOut() {
  const columns = ['share = share(kg)', 'percent = round(100 * share, 2)'].map((text) => {
    const [name, formula] = text.split(' = ')
    return { op: 'add-column', table: 'harvests', column: { name, formula } }
  })
  const book = largeBook(5_000_000, columns)
  let value = 0
  const edit = () => book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 5, column: 'kg', value: value++ + 0.5 }] })
  const edits = []
  const reads = []
  const rests = []
  for (let run = 0; run < 9; run++) {
    edits.push(timedNow(edit))
    reads.push(timedNow(() => book.query({ table: 'harvests', limit: 40 }).rows()))
    rests.push(timedNow(() => book.flush()))
  }
  row(
    'an edit that moves 10 M cells (share of a total, 5 M rows)',
    ms(median(edits)),
    `all cells calculated ${ms(median(rests))}; the first 40 rows read in between ${ms(median(reads))}`,
    `${(median(edits) / median(rests)).toFixed(3)} ×`,
    'returns at once',
  )
}

/** An edit of one row of a group of a million. */
function benchLargeGroup() {
  const book = largeBook(1_000_000, [])
  const times = ['sum', 'min', 'median', 'mode', 'count_distinct', 'variance'].map((name) => {
    book.apply({ op: 'set-tally', table: 'harvests', name: 'x', formula: `${name}(kg)` })
    let value = 0
    const edit = () =>
      book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1 + value, column: 'kg', value: value++ }] })
    edit()
    const time = median(Array.from({ length: 99 }, () => timedNow(edit)))
    return `${name} ${(time * 1000).toFixed(0)}`
  })
  row('an edit in one group of 1 M rows, by aggregate, µs', times.join(', '), '–', '–', 'grows with log rows')
}

/** Calls that must grow with what they are given, not with its square: each at 50 000 and at a million. */
function benchGrowth() {
  const few = 50_000
  const many = 1_000_000
  const made = (rows) => {
    const book = new Workbook()
    book.apply([
      {
        op: 'add-table',
        table: 't',
        columns: [
          { name: 'k', type: 'number' },
          { name: 'a', type: 'number' },
          { name: 'd', formula: 'a * 2' },
        ],
      },
      {
        op: 'insert-rows',
        table: 't',
        block: { k: Float64Array.from({ length: rows }, (_, at) => at), a: new Float64Array(rows) },
      },
    ])
    return book
  }
  const cell = (row, value) => ({ row, column: 'a', value })
  const calls = {
    'set-cells, by cells': (count) => {
      const cells = Array.from({ length: count }, (_, at) => cell(at + 1, at))
      return [made(count), { op: 'set-cells', table: 't', cells }]
    },
    'reread-rows, by changed rows': (count) => {
      const block = { k: Array.from({ length: count }, (_, at) => at), a: Array.from({ length: count }, (_, at) => at + 1) }
      return [made(count), { op: 'reread-rows', table: 't', key: ['k'], block }]
    },
    'one call, by operations': (count) => [
      made(10),
      Array.from({ length: count }, (_, at) => ({ op: 'set-cells', table: 't', cells: [cell(1 + (at % 10), at)] })),
    ],
  }
  for (const [work, given] of Object.entries(calls)) {
    const time = (count) => {
      const [book, operations] = given(count)
      return timedNow(() => book.apply(operations))
    }
    time(few)
    const short = median([time(few), time(few), time(few)])
    const long = time(many)
    const growth = long / short
    row(
      `${work}: 1 M against 50 000`,
      ms(long),
      ms(short),
      `${growth.toFixed(1)} × for 20 ×`,
      'about 20 ×, a square would be 400 ×',
    )
  }
}

/** What ten million rows take: six columns of numbers with fractions, four formulas, in a process of its own. */
function benchMemory() {
  const { stdout } = spawnSync(process.execPath, ['--expose-gc', join(root, 'scripts/bench-memory.mjs')], { encoding: 'utf8' })
  const { rest, peak, bytes } = JSON.parse(stdout)
  row('10 M rows × 6 columns of numbers and 4 row formulas, at rest', `${rest} MB`, `${bytes} bytes a cell`, '–', '1 200 MB')
  row('its peak while all is calculated again', `${peak} MB`, '–', '–', '1 600 MB')
}

/** A million rows of eight columns brought in each of the three ways, and what the workbook says that it takes then. */
function benchRows() {
  const targets = { rows: ['row objects', '≤ 4 s'], lists: ['lists by column', '≤ 2 s'], arrays: ['typed arrays', '≤ 1 s'] }
  for (const [kind, [words, target]] of Object.entries(targets)) {
    const run = () => {
      const { stdout } = spawnSync(process.execPath, ['--expose-gc', join(root, 'scripts/bench-rows.mjs'), kind], {
        encoding: 'utf8',
      })
      return JSON.parse(stdout)
    }
    const runs = [run(), run(), run()]
    const { told, held } = runs[0]
    row(`1 M rows × 8 columns as ${words}`, ms(median(runs.map(({ took }) => took))), '–', '–', target)
    row(
      'with three formulas: `memory()`',
      `${told.toFixed(0)} MB`,
      `the process grew by ${held.toFixed(0)} MB`,
      `${(told / held).toFixed(3)} ×`,
      'within 5 %',
    )
  }
}

/** The views of a published model, beside SQL written by hand for the same columns, in a process of its own. */
function benchSql() {
  const { stdout } = spawnSync(process.execPath, [join(root, 'scripts/bench-sql.mjs')], { encoding: 'utf8' })
  for (const line of stdout.trim().split('\n')) {
    const { engine, name, view, hand, ratio } = JSON.parse(line)
    row(`published view, 1 M rows on ${engine}: ${name}`, ms(view), `by hand ${ms(hand)}`, `${ratio.toFixed(2)} ×`, '≤ 1.3 ×')
  }
}

/** First calculations beside an embedded columnar database, in a process of its own. */
function benchColumnar() {
  const { stdout } = spawnSync(process.execPath, [join(root, 'scripts/bench-columnar.mjs')], { encoding: 'utf8' })
  for (const line of stdout.trim().split('\n')) {
    const { name, rows, ours, theirs, ratio } = JSON.parse(line)
    row(
      `first calculation, ${rows / 1e6} M rows: ${name}`,
      ms(ours),
      `an embedded columnar database, two threads, ${ms(theirs)}`,
      `${ratio.toFixed(2)} ×`,
      COLUMNAR_TARGETS[name],
    )
  }
}

/** How long a first calculation may take beside the database. */
const COLUMNAR_TARGETS = {
  'a condition': '≤ 0.6 ×',
  'a text joined': '≤ 1.5 ×',
  'a lookup along a link': '≤ 1 ×',
  'a total of linked rows': '≤ 1 ×',
  'a total of each group': '≤ 1.2 ×',
  'a share of each group': '≤ 1.2 ×',
  'the row before in each group': '≤ 1.5 ×',
  'a rank in each group': '≤ 1.5 ×',
  'a running total of each group': '≤ 1.5 ×',
  'the median of each group': '≤ 1.5 ×',
  'a file calculated, CSV to CSV, whole process': '≤ 1.2 ×',
}

/** What refreshing kept columns costs beside computing them anew, in a process of its own. */
function benchRefresh() {
  const { stdout } = spawnSync(process.execPath, [join(root, 'scripts/bench-refresh.mjs')], { encoding: 'utf8' })
  for (const line of stdout.trim().split('\n')) {
    const { engine, what, rows, changed, anew, refresh, ratio } = JSON.parse(line)
    row(
      `refreshing what is kept, ${changed} of ${rows / 1e6} M rows changed, on ${engine}: ${what}`,
      ms(refresh * 1000),
      `anew ${ms(anew * 1000)}`,
      `1 : ${ratio}`,
      '–',
    )
  }
}

/** A saved workbook of 1 M rows and 20 columns: opened in this process, and edited through the terminal, start included. */
async function benchBookFile() {
  const path = join(folder, 'saved.mellow')
  if (existsSync(path)) rmSync(path)
  const random = new SeededRandom(DEMO_SEED)
  const rows = 1_000_000
  const numbers = (index) => Float64Array.from({ length: rows }, () => random.whole(0, 1000 * (index + 1)) / 8)
  const names = Array.from({ length: 14 }, (_, index) => `n${index}`)
  const file = BookFile.create(path)
  file.apply([
    {
      op: 'add-table',
      table: 't',
      columns: [
        ...names.map((name) => ({ name, type: 'number' })),
        { name: 'hive', type: 'text' },
        { name: 'note', type: 'text' },
        ...['n0 + n1', 'n2 * 2', "if(n3 > 50, 'high', 'low')", 'n4 per n5'].map((formula, at) => ({ name: `x${at}`, formula })),
      ],
    },
    {
      op: 'insert-rows',
      table: 't',
      block: {
        ...Object.fromEntries(names.map((name, index) => [name, numbers(index)])),
        hive: Array.from({ length: rows }, () => `hive-${random.whole(1, 999)}`),
        note: Array.from({ length: rows }, (_, at) => `seen ${at}`),
      },
    },
  ])
  file.close()
  const open = () => {
    const opened = BookFile.open(path, { writes: false })
    opened.book.query({ table: 't', limit: 40 }).rows()
    opened.close()
  }
  const opened = await inTurn(5, open, () => readFileSync(path))
  const size = Math.round(statSync(path).size / 1e6)
  row(
    'opening a saved workbook, 1 M × 20',
    ms(opened.one),
    `reading its ${size} MB ${ms(opened.other)}`,
    `${opened.ratio.toFixed(2)} ×`,
    '≤ 5 ×, before 1 s',
  )
  let value = 0
  const tool = join(root, 'node_modules/.bin/mellow')
  const edit = () => execFileSync(tool, ['set', path, 't', '500000', `n0=${++value}`], { encoding: 'utf8' })
  edit()
  const times = []
  for (let run = 0; run < 5; run++) times.push(await timed(edit))
  const file2 = BookFile.open(path, { writes: false })
  const bytes = Buffer.byteLength(JSON.stringify([...file2.journal()].at(-1)))
  file2.close()
  row(
    'one cell of it edited through the terminal, start included',
    ms(median(times)),
    `journal entry ${bytes} bytes`,
    '–',
    'under 1 s and 1 kB',
  )
}

async function benchStart() {
  const bare = () => execFileSync(process.execPath, ['-e', '0'])
  const help = () => execFileSync(process.execPath, [join(root, 'node_modules/.bin/mellow'), '--help'])
  const { one, other } = await inTurn(9, help, bare)
  row('start: `mellow --help`', ms(one), `bare node ${ms(other)}`, `+ ${Math.round(one - other)} ms`, '+ 120 ms at most')
}

/** Writes of single cells to a served workbook, each durable before it is answered, beside an empty address of the same server. */
function benchShared() {
  const said = execFileSync(process.execPath, [join(root, 'scripts/shared/writes.mjs'), '8'], { encoding: 'utf8' })
  for (const [, writes, columns, floor] of said.matchAll(/writes: (\d+) .* with (\d+) calculated .* empty address: (\d+)/g))
    row(
      `single-cell edits a second over HTTP, 100 k rows × ${columns} calculated columns, 32 connections`,
      writes,
      `an empty address ${floor}`,
      (writes / floor).toFixed(2),
      '2 000 at least',
    )
}

/** How late an edit reaches many who follow one workbook, and how soon health is answered meanwhile. */
function benchFollowers() {
  const said = execFileSync(process.execPath, [join(root, 'scripts/shared/load.mjs'), '30'], { encoding: 'utf8' })
  const { measured, computing } = JSON.parse(said)
  const parts = [
    ['50 edits a second', measured],
    ['the same while another workbook computes', computing],
  ]
  for (const [what, { median, p99, health }] of parts)
    row(
      `an edit told to 200 who follow, 100 k rows × 20 calculated columns, clients and server on these cores: ${what}`,
      `median ${median} ms, 99th percentile ${p99} ms`,
      `health, 99th percentile ${health.p99} ms`,
      '–',
      '50 ms, 250 ms; health 20 ms',
    )
}

/** The page in Chromium, by the browser's own tracing: CPU of the thread that draws, frames while scrolling, how soon an edit is felt. */
function benchPage() {
  const said = execFileSync(process.execPath, [join(root, 'scripts/desk/measure.mjs')], { encoding: 'utf8' })
  const { first, ...tables } = JSON.parse(said)
  row(
    'the demo on the page: CPU until the first rows',
    ms(first.all),
    `of it the thread that draws ${ms(first.drawing)}`,
    '–',
    '1 000 ms',
  )
  for (const [name, size] of [
    ['million', '1 M rows × 40 columns'],
    ['wide', '100 k rows × 200 columns'],
  ]) {
    const { slow, fast, edit, pick, typing } = tables[name]
    const frames = `${slow.frame} and ${fast.frame} ms a frame`
    const missing = `${Math.max(slow.longest, fast.longest)} frames with a row missing`
    row(`${size} on the page, scrolled by 2 and by 11 rows a turn`, frames, missing, '–', '17 ms, at most one frame')
    row(`${size}: an edit until the cell that follows is drawn`, ms(edit), '–', '–', '50 ms')
    row(
      `${size}: picking a column, CPU until it is drawn`,
      ms(pick.drawn),
      `with all that follows ${ms(pick.settled)}`,
      '–',
      '50 ms',
    )
    row(
      `${size}: a key in a formula, CPU until it is drawn`,
      ms(typing.drawn),
      `with preview and words ${ms(typing.settled)}`,
      '–',
      '25 ms',
    )
  }
}

await benchStart()
benchLanguage()
await benchRowFormulas()
await benchTotals()
await benchReport()
benchRange()
benchOrdered()
benchEdit()
benchFanOut()
benchLargeGroup()
benchGrowth()
benchMemory()
benchRows()
await benchBookFile()
benchShared()
benchFollowers()
benchPage()
await benchCalc()
benchColumnar()
benchSql()
benchRefresh()

const lines = results.map(({ work, ours, against, ratio, target }) => `| ${work} | ${ours} | ${against} | ${ratio} | ${target} |`)
const text = `# Benchmarks

Ratios of one run of \`npm run bench\` on ${cpus().length} cores (${cpus()[0]?.model ?? 'unknown'}), Node ${process.version}; medians of runs that take turns. Read the
ratios: the milliseconds are this machine's alone.

| work | time | against | ratio | target |
| --- | --- | --- | --- | --- |
${lines.join('\n')}
`
if (process.argv.includes('--write')) writeFileSync(join(root, 'docs/benchmarks.md'), text)
