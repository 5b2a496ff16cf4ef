// Writes of single cells over loopback, each durable before it is answered, beside the floor of the same server: an address that
// does nothing; with three calculated columns, and with twenty of which one edit moves a hundred and twenty cells. Loads come from a process of their own. node scripts/shared/writes.mjs [seconds] [connections]
import { fork, spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { Agent, request } from 'node:http'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { makeReadings } from './readings-book.mjs'

const [, , given = '5', count = '32', asked] = process.argv
const [seconds, connections] = [Number(given), Number(count)]

/** Asks again and again over some connections for a while; gives how often it was answered in a second. */
async function rate(url, question) {
  const agent = new Agent({ keepAlive: true, maxSockets: connections })
  const ask = (at) =>
    new Promise((resolve, reject) => {
      const { method, path, body } = question(at)
      const headers =
        body === undefined
          ? {}
          : { 'content-type': 'application/json', prefer: 'return=minimal', 'content-length': Buffer.byteLength(body) }
      const sent = request(url + path, { method, agent, headers }, (answer) => {
        answer.resume()
        answer.on('end', () => (answer.statusCode === 200 ? resolve() : reject(new Error(String(answer.statusCode)))))
      })
      sent.on('error', reject)
      sent.end(body)
    })
  let answers = 0
  let at = 0
  const measure = async (ms) => {
    const end = performance.now() + ms
    answers = 0
    await Promise.all(
      Array.from({ length: connections }, async () => {
        while (performance.now() < end) {
          await ask(at++)
          answers++
        }
      }),
    )
    return Math.round(answers / (ms / 1_000))
  }
  await measure(2_000)
  const found = await measure(seconds * 1_000)
  agent.destroy()
  return found
}

if (asked !== undefined) {
  const floor = await rate(asked, () => ({ method: 'GET', path: '/health/live' }))
  const edit = (at) => ({
    method: 'PATCH',
    path: `/books/readings/tables/readings/rows/${1 + ((at * 7_919) % 100_000)}`,
    body: `{"kg":${at % 97}}`,
  })
  process.send({ floor, writes: await rate(asked, edit) })
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
