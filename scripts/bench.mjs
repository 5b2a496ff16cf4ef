// Benchmarks as ratios against something known, measured in one run on one machine: pairs take turns, so that both sides feel
// the same noise, and medians are quoted. Prints a table; with --write keeps it in docs/benchmarks.md.
import { execFileSync, spawnSync } from 'node:child_process'
import { createReadStream, existsSync, mkdirSync, statSync, writeFileSync } from 'node:fs'
import { cpus, tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { DEMO_SEED, SeededRandom } from '@mellow-abacus/demo'
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

/** Runs two things in turn and gives the medians of their times and of the ratios of each pair. */
async function inTurn(runs, one, other) {
  const times = { one: [], other: [], ratio: [] }
  for (let run = 0; run <= runs; run++) {
    const a = await timed(one)
    const b = await timed(other)
    // The first pair warms up.
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

async function benchRowFormulas() {
  const count = 1_000_000
  const book = benchBook(count)
  const a = book.table('t').column('a').values()
  const b = book.table('t').column('b').values()
  const left = Float64Array.from(a, (value) => value ?? 0)
  const leftStatus = Uint8Array.from(a, (value) => (value === null ? 1 : 0))
  const right = Float64Array.from(b)
  const rightStatus = new Uint8Array(count)
  const values = new Float64Array(count)
  const status = new Uint8Array(count)
  const byHand = () => {
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
  }
  const formula = 'case when b > 5 then 0.5*a*b*b - a else a / b end'
  book.apply({ op: 'add-column', table: 't', column: { name: 'x', formula: '1' } })
  // All of it: check, compile, compute every row, compare with what was there, count the watched places.
  const engine = () => book.apply({ op: 'change-column', table: 't', column: 'x', set: { formula } })
  const { one, other, ratio } = await inTurn(9, engine, byHand)
  row(
    `row formula, 1 M rows: \`${formula}\`, as one operation`,
    ms(one),
    `hand-written typed-array loop ${ms(other)}`,
    `${ratio.toFixed(1)} ×`,
    '≤ 3 ×',
  )
}

async function benchEdit() {
  const chain = Array.from({ length: 10 }, (_, index) => ({
    op: 'add-column',
    table: 't',
    column: { name: `c${index + 1}`, formula: index === 0 ? 'a + b' : `c${index} * 1.5 + b` },
  }))
  const time = (rowCount) => {
    const book = benchBook(rowCount)
    book.apply(chain)
    let value = 0
    const edit = () =>
      book.apply({ op: 'set-cells', table: 't', cells: [{ row: 1 + ((value * 7919) % rowCount), column: 'a', value: value++ }] })
    for (let warm = 0; warm < 3000; warm++) edit()
    const times = Array.from({ length: 3000 }, () => {
      const from = performance.now()
      edit()
      return performance.now() - from
    })
    return median(times)
  }
  const small = time(10_000)
  const large = time(1_000_000)
  row(
    'one cell edit through 10 dependent row columns, 1 M rows',
    `${(large * 1000).toFixed(1)} µs`,
    `the same at 10 k rows ${(small * 1000).toFixed(1)} µs`,
    `${(large / small).toFixed(2)} ×`,
    '≤ 2 ×',
  )
}

async function benchStart() {
  const bare = () => execFileSync(process.execPath, ['-e', '0'])
  const help = () => execFileSync(process.execPath, [join(root, 'node_modules/.bin/mellow'), '--help'])
  const { one, other } = await inTurn(9, help, bare)
  row('start: `mellow --help`', ms(one), `bare node ${ms(other)}`, `+ ${Math.round(one - other)} ms`, '+ 120 ms at most')
}

await benchStart()
await benchRowFormulas()
await benchEdit()
await benchCalc()

const lines = results.map(({ work, ours, against, ratio, target }) => `| ${work} | ${ours} | ${against} | ${ratio} | ${target} |`)
const text = `# Benchmarks

Ratios of one run of \`npm run bench\` on ${cpus().length} cores (${cpus()[0]?.model ?? 'unknown'}), Node ${process.version}; medians of runs that take turns. Read the
ratios: the milliseconds are this machine's alone.

| work | time | against | ratio | target |
| --- | --- | --- | --- | --- |
${lines.join('\n')}
`
if (process.argv.includes('--write')) writeFileSync(join(root, 'docs/benchmarks.md'), text)
