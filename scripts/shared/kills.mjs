// Kills a server again and again while clients write to it, and counts what was acknowledged and lost, and what was done twice.
// Clients ask again under the same key until they are answered. node scripts/shared/kills.mjs [kills] [clients]
import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { BookFile } from '../../packages/files/dist/index.js'
import { connect } from '../../packages/session/dist/index.js'

const [kills = 200, count = 8] = process.argv.slice(2).map(Number)
const folder = mkdtempSync(join(tmpdir(), 'mellow-kills-'))
const file = BookFile.create(join(folder, 'takings.mellow'))
file.apply([
  {
    op: 'add-table',
    table: 'takings',
    columns: [
      { name: 'who', type: 'integer' },
      { name: 'number', type: 'integer' },
    ],
  },
  { op: 'add-column', table: 'takings', column: { name: 'twice', formula: 'number * 2' } },
])
file.close()

const free = createServer().listen(0, '127.0.0.1')
await new Promise((resolve) => free.once('listening', resolve))
const { port } = free.address()
await new Promise((resolve) => free.close(resolve))

let server
async function start() {
  server = spawn(
    process.execPath,
    [join(import.meta.dirname, 'serve.mjs'), folder, JSON.stringify({ rate: 0, port, log: 'silent' })],
    {
      stdio: ['ignore', 'pipe', 'inherit'],
    },
  )
  await new Promise((resolve) => server.stdout.once('data', resolve))
}
await start()

const url = `http://127.0.0.1:${port}/books/takings`
let isEnding = false
const acknowledged = new Set()
const heard = []
const follower = await connect(url)
let gaps = 0
let last = (await follower.facts()).revision
let resets = 0
follower.on((event) => {
  if (event.kind === 'reset') {
    resets++
    last = null
    return
  }
  if (last !== null && event.revision <= last) gaps++
  last = event.revision
  heard.push(event.revision)
})
const window = await follower.watch({ table: 'takings', from: 1, to: 10_000 })

async function client(who) {
  const session = await connect(url)
  for (let number = 1; !isEnding; number++) {
    for (;;) {
      try {
        const rows = [{ who, number }]
        await session.apply({ op: 'insert-rows', table: 'takings', rows }, { key: { name: `${who} ${number}`, fingerprint: '' } })
        break
      } catch (error) {
        if (error.code !== 'lost' && error.code !== 'closed') throw error
      }
    }
    acknowledged.add(`${who} ${number}`)
  }
}
const clients = Array.from({ length: count }, (_, who) => client(who))

for (let kill = 0; kill < kills; kill++) {
  await new Promise((resolve) => setTimeout(resolve, 400 + Math.random() * 900))
  server.kill('SIGKILL')
  await new Promise((resolve) => server.once('exit', resolve))
  await start()
}
isEnding = true
await Promise.all(clients)
const session = await connect(url)
const { rows, revision } = await session.query({ table: 'takings' })
for (let waited = 0; window.current.revision < revision && waited < 20_000; waited += 50)
  await new Promise((resolve) => setTimeout(resolve, 50))
const found = rows.map(({ cells }) => `${cells.who} ${cells.number}`)
const known = new Set(found)
const lost = [...acknowledged].filter((one) => !known.has(one)).length
const twice = found.length - known.size
const shown = window.current.rows.map(({ id, cells }) => ({ id, cells }))
const isSame = JSON.stringify(shown) === JSON.stringify(rows.slice(0, 9_999))
console.log({
  kills,
  acknowledged: acknowledged.size,
  rows: rows.length,
  lost,
  twice,
  disorder: gaps,
  resets,
  windowIsRight: isSame,
})
server.kill('SIGTERM')
await new Promise((resolve) => server.once('exit', resolve))
rmSync(folder, { recursive: true, force: true })
process.exit(lost + twice + gaps === 0 && isSame ? 0 : 1)
