// Many at one shared workbook over HTTP: clients that follow a window each, edits at a pace, and whether everyone ends with the
// values of the server, in order, how late, and how soon health is answered meanwhile: while all warm up, then for the time that is
// measured, and at last for ten seconds more in which another workbook computes.
// node scripts/shared/load.mjs [seconds] [clients] [edits a second] [seconds to warm up]
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { connect } from '../../packages/session/dist/index.js'
import { makeReadings } from './readings-book.mjs'

const [seconds = 60, count = 200, pace = 50, warming = 10] = process.argv.slice(2).map(Number)
const folder = mkdtempSync(join(tmpdir(), 'mellow-load-'))
makeReadings(join(folder, 'readings.mellow'), 100_000)
makeReadings(join(folder, 'heavy.mellow'), 3_000)
const server = spawn(process.execPath, [join(import.meta.dirname, 'serve.mjs'), folder, '{"rate":0}'], {
  stdio: ['ignore', 'pipe', 'inherit'],
})
const url = await new Promise((resolve) => server.stdout.once('data', (text) => resolve(String(text).trim())))
const book = `${url}/books/readings`

const COMPUTING = 10
/** How late edits of each part of the time were told to each client, in milliseconds. */
const lags = { warming: [], measured: [], computing: [] }
const until = { warming, measured: warming + seconds, computing: warming + seconds + COMPUTING }
const partAt = (second) => Object.keys(until).find((part) => second < until[part]) ?? 'computing'
const all = until.computing * pace
const sent = new Map()
let disorder = 0
const clients = []
let start = 0
for (let at = 0; at < count; at++) {
  const session = await connect(book)
  const from = 1 + (at % 8) * 5
  const window = await session.watch({ table: 'readings', from, to: from + 40 })
  const client = { session, window, last: 0, heard: 0 }
  session.on((event) => {
    if (event.revision <= client.last) disorder++
    client.last = event.revision
    client.heard++
    const at = sent.get(event.revision)
    if (at !== undefined) lags[partAt((at - start) / 1_000)].push(performance.now() - at)
  })
  clients.push(client)
}
const first = (await clients[0].session.facts()).revision
await new Promise((resolve) => setTimeout(resolve, 1_000))

// Health is asked from a process of its own: what the clients take here is not the time of the server.
const asking = spawn(process.execPath, [join(import.meta.dirname, 'ask-health.mjs'), url], {
  stdio: ['pipe', 'pipe', 'inherit'],
})
let healthText = ''
asking.stdout.on('data', (text) => {
  healthText += text
})

/** Has another workbook compute for a while; gives how often it did. */
async function compute() {
  const session = await connect(`${url}/books/heavy`)
  const formula = 'count(every readings.kg where abs(kg - this.kg) < 1)'
  let rounds = 0
  for (const end = performance.now() + COMPUTING * 1_000; performance.now() < end; rounds++)
    await session.apply(
      { op: 'add-column', table: 'readings', column: { name: `near_${rounds}`, formula } },
      { returns: 'minimal' },
    )
  return rounds
}

const editor = await connect(book)
start = performance.now()
const answers = []
let edits = 0
let computing = null
let part = ''
await new Promise((resolve) => {
  const timer = setInterval(() => {
    const now = (performance.now() - start) / 1_000
    if (part !== partAt(now)) {
      part = partAt(now)
      asking.stdin.write(`${part}\n`)
      if (part === 'computing') computing = compute()
    }
    for (; edits < Math.min(Math.floor(now * pace), all); edits++) {
      const row = edits % 2 === 0 ? 1 + (edits % 75) : 1 + ((edits * 7_919) % 100_000)
      sent.set(first + 1 + edits, performance.now())
      answers.push(
        editor.apply(
          { op: 'set-cells', table: 'readings', cells: [{ row, column: 'kg', value: edits % 89 }] },
          { returns: 'minimal' },
        ),
      )
    }
    if (edits === all) {
      clearInterval(timer)
      resolve()
    }
  }, 4)
})
await Promise.all(answers)
const rounds = await computing
await new Promise((resolve) => setTimeout(resolve, 2_000))
asking.kill('SIGTERM')
await new Promise((resolve) => asking.once('close', resolve))

let wrong = 0
for (const { window } of clients) {
  const shown = window.current
  const from = shown.rows[0].place
  const now = await editor.query({ table: 'readings', limit: 100 })
  const rows = now.rows.slice(from - 1, from - 1 + shown.rows.length)
  if (JSON.stringify(rows) !== JSON.stringify(shown.rows.map(({ id, cells }) => ({ id, cells })))) wrong++
}
const health = JSON.parse(healthText)
const at = (list, share) => Number(list[Math.floor(list.length * share)]?.toFixed(1))
const told = Object.entries(lags).map(([name, list]) => {
  const sorted = list.sort((a, b) => a - b)
  return [name, { median: at(sorted, 0.5), p99: at(sorted, 0.99), worst: at(sorted, 0.9999), health: health[name] }]
})
const heard = Object.values(lags).reduce((sum, list) => sum + list.length, 0)
console.log(
  JSON.stringify({ edits, heard, expected: edits * count, disorder, wrong, rounds, ...Object.fromEntries(told) }, null, 1),
)
for (const { session } of clients) await session.close()
server.kill('SIGTERM')
await new Promise((resolve) => server.once('exit', resolve))
rmSync(folder, { recursive: true, force: true })
process.exit(disorder + wrong === 0 && heard === edits * count ? 0 : 1)
