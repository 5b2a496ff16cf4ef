// Writes of single cells over loopback, each durable before it is answered, beside the floor of the same server: an address that
// does nothing; with three calculated columns, and with twenty of which one edit moves a hundred and twenty cells. Loads come from a process of their own. node scripts/shared/writes.mjs [seconds] [connections]
import { fork, spawn } from 'node:child_process'
import { once } from 'node:events'
import { mkdtempSync, rmSync } from 'node:fs'
import { connect } from 'node:net'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { makeReadings } from './readings-book.mjs'

const [, , given = '5', count = '32', asked] = process.argv
const [seconds, connections] = [Number(given), Number(count)]

/** Milliseconds of asking before it counts: until then the server is being compiled. */
const [WARMING_READS, WARMING_WRITES] = [2_000, 10_000]

/** One connection that is asked one thing after the other; it does next to nothing itself, since it shares the processors. */
class Connection {
  #socket
  #heard = ''
  #answered = () => {}

  static async open(url) {
    const made = new Connection()
    const { hostname, port } = new URL(url)
    made.#socket = connect({ host: hostname, port: Number(port), noDelay: true })
    made.#socket.setEncoding('latin1')
    made.#socket.on('data', (text) => made.#hear(text))
    await once(made.#socket, 'connect')
    return made
  }

  /** Asks, and waits for the whole answer. */
  async ask({ method, path, body = '' }) {
    const heads =
      body === '' ? '' : `content-type: application/json\r\nprefer: return=minimal\r\ncontent-length: ${body.length}\r\n`
    const answer = new Promise((resolve) => {
      this.#answered = resolve
    })
    this.#socket.write(`${method} ${path} HTTP/1.1\r\nhost: 127.0.0.1\r\n${heads}\r\n${body}`)
    const status = await answer
    if (status !== 200) throw new Error(`answered with ${status}`)
  }

  #hear(text) {
    this.#heard += text
    const head = this.#heard.indexOf('\r\n\r\n')
    const length = Number(/\r\ncontent-length: (\d+)/i.exec(this.#heard)?.[1])
    if (head < 0 || this.#heard.length < head + 4 + length) return
    const status = Number(this.#heard.slice(9, 12))
    this.#heard = ''
    this.#answered(status)
  }

  close() {
    this.#socket.destroy()
  }
}

/** Asks again and again over some connections for a while; gives how often it was answered in a second. */
async function rate(url, question, warming) {
  const open = await Promise.all(Array.from({ length: connections }, () => Connection.open(url)))
  let answers = 0
  let at = 0
  const measure = async (ms) => {
    const end = performance.now() + ms
    answers = 0
    await Promise.all(
      open.map(async (connection) => {
        while (performance.now() < end) {
          await connection.ask(question(at++))
          answers++
        }
      }),
    )
    return Math.round(answers / (ms / 1_000))
  }
  await measure(warming)
  const found = await measure(seconds * 1_000)
  for (const connection of open) connection.close()
  return found
}

if (asked !== undefined) {
  const floor = await rate(asked, () => ({ method: 'GET', path: '/health/live' }), WARMING_READS)
  const edit = (at) => ({
    method: 'PATCH',
    path: `/books/readings/tables/readings/rows/${1 + ((at * 7_919) % 100_000)}`,
    body: `{"kg":${at % 97}}`,
  })
  process.send({ floor, writes: await rate(asked, edit, WARMING_WRITES) })
} else {
  for (const few of [true, false]) await measured(few)
}

async function measured(few) {
  const folder = mkdtempSync(join(tmpdir(), 'mellow-writes-'))
  makeReadings(join(folder, 'readings.mellow'), 100_000, { few })
  const server = spawn(process.execPath, [join(import.meta.dirname, 'serve.mjs'), folder, '{"rate":0,"log":"error"}'], {
    stdio: ['ignore', 'pipe', 'inherit'],
  })
  const url = await new Promise((resolve) => server.stdout.once('data', (text) => resolve(String(text).trim())))
  const { floor, writes } = await new Promise((resolve) => {
    fork(import.meta.filename, [given, count, url]).once('message', resolve)
  })
  const columns = few ? 3 : 20
  console.log(
    `writes: ${writes} single-cell edits a second with ${columns} calculated columns, over ${connections} connections; an empty address: ${floor}`,
  )
  server.kill('SIGTERM')
  await new Promise((resolve) => server.once('exit', resolve))
  rmSync(folder, { recursive: true, force: true })
}
