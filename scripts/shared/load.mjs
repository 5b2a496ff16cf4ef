// Many at one shared workbook over HTTP: clients that follow a window each, edits at a pace, and whether everyone ends with the
// values of the server, in order, how late, and how soon health is answered meanwhile, also while another workbook computes.
// Figures are told of the time after all have warmed up, and of the whole. LIGHT=1 leaves the other workbook alone.
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
makeReadings(join(folder, 'heavy.mellow'), 30_000)
const server = spawn(process.execPath, [join(import.meta.dirname, 'serve.mjs'), folder, '{"rate":0}'], {
  stdio: ['ignore', 'pipe', 'inherit'],
})
const url = await new Promise((resolve) => server.stdout.once('data', (text) => resolve(String(text).trim())))
const book = `${url}/books/readings`

const sent = new Map()
const early = []
const lags = []
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
    if (at !== undefined) (at - start < warming * 1_000 ? early : lags).push(performance.now() - at)
  })
  clients.push(client)
}
const first = (await clients[0].session.facts()).revision
await new Promise((resolve) => setTimeout(resolve, 1_000))

// Health is asked from a process of its own: what the clients take here is not the time of the server.
const asking = spawn(process.execPath, [join(import.meta.dirname, 'ask-health.mjs'), url], {
  stdio: ['ignore', 'pipe', 'inherit'],
})
let healthText = ''
asking.stdout.on('data', (text) => {
  healthText += text
})

// Another workbook computes for a while.
const heavy = process.env.LIGHT
  ? Promise.resolve(0)
  : connect(`${url}/books/heavy`).then(async (session) => {
      const at = performance.now()
      const formula = 'count(every readings.kg where abs(kg - this.kg) < 1)'
      for (let round = 0; performance.now() - at < 10_000; round++) {
        await session
          .apply({ op: 'add-column', table: 'readings', column: { name: `near_${round}`, formula } }, { returns: 'minimal' })
          .catch((error) => console.log('heavy:', error.message))
      }
      return performance.now() - at
    })

const editor = await connect(book)
start = performance.now()
const answers = []
let edits = 0
await new Promise((resolve) => {
  const timer = setInterval(() => {
    const due = Math.floor(((performance.now() - start) / 1_000) * pace)
    for (; edits < Math.min(due, (seconds + warming) * pace); edits++) {
      const row = edits % 2 === 0 ? 1 + (edits % 75) : 1 + ((edits * 7_919) % 100_000)
      sent.set(first + 1 + edits, performance.now())
      answers.push(
        editor.apply(
          { op: 'set-cells', table: 'readings', cells: [{ row, column: 'kg', value: edits % 89 }] },
          { returns: 'minimal' },
        ),
      )
    }
    if (edits === (seconds + warming) * pace) {
      clearInterval(timer)
      resolve()
    }
  }, 4)
})
await Promise.all(answers)
const heavyMs = await heavy
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
const at = (list, part) => Number(list.sort((a, b) => a - b)[Math.floor(list.length * part)]?.toFixed(1))
console.log({
  edits,
  heard: `${lags.length + early.length} of ${edits * count}`,
  disorder,
  wrong,
  median: at(lags, 0.5),
  p99: at(lags, 0.99),
  worst: at(lags, 0.9999),
  warmingUp: { median: at(early, 0.5), p99: at(early, 0.99) },
  health: healthText.trim(),
  heavyMs: Math.round(heavyMs),
})
for (const { session } of clients) await session.close()
server.kill('SIGTERM')
await new Promise((resolve) => server.once('exit', resolve))
rmSync(folder, { recursive: true, force: true })
process.exit(disorder + wrong === 0 && lags.length + early.length === edits * count ? 0 : 1)
