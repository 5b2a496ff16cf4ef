import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { readdirSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { createInterface } from 'node:readline'
import { fileURLToPath } from 'node:url'
import { afterEach, beforeEach, describe, expect, test } from 'vitest'
import { startServer as startDatabase, type TestServer } from '../../../sql/tests/helpers/postgresql-server.mjs'
import { Fleet, pause } from '../helpers/fleet.mjs'
import { Follower, killInTurn, Load, makeBooks } from '../helpers/fleet-load.mjs'

/**
 * Servers as processes over one store, that are killed, stopped and woken, and whose database ends and begins again. A sample; at
 * length: node scripts/try-fleet.mjs.
 */
let database: TestServer
let fleet: Fleet

const NOTHING = { lost: [], doubled: [], unexpected: [] }

beforeEach(async () => {
  database = await startDatabase()
  fleet = await Fleet.begin({ store: database.address, servers: 3 })
}, 120_000)
afterEach(async () => {
  await fleet.close()
  database.stop()
})

/** The place of the server that has a workbook. */
async function ownerOf(name: string): Promise<number> {
  for (const index of fleet.ports.keys()) if ((await fleet.booksOf(index)).includes(name)) return index
  throw new Error(`nobody has ${name}`)
}

describe('three servers over one store', () => {
  test('killed in turn, they lose and double nothing that was acknowledged, and feeds have no gap', async () => {
    const names = await makeBooks(fleet, 9)
    const followers = names.map((name) => new Follower(fleet, name))
    const load = new Load(fleet, names, 6)
    const takeOvers = await killInTurn(fleet, load, { seconds: 14 })
    await load.end()
    expect(await load.faults()).toEqual(NOTHING)
    expect(load.edits).toBeGreaterThan(100)
    expect(takeOvers.length).toBeGreaterThan(0)
    for (const follower of followers) {
      const { json } = await fleet.ask(`/books/${follower.name}`)
      await expect.poll(() => follower.revision, { timeout: 10_000 }).toBe(json.revision)
      await follower.end()
    }
    expect(followers.flatMap(({ gaps }) => gaps)).toEqual([])
    expect(followers.reduce((sum, { changes }) => sum + changes, 0)).toBeGreaterThan(50)
  })

  test('one that was stopped for ten seconds and woken writes nothing', async () => {
    await makeBooks(fleet, 1)
    const owner = await ownerOf('book-0')
    const other = (owner + 1) % 3
    const [first, second] = [fleet.urlOf(owner), fleet.urlOf(other)]
    const mark = (text: string, url = first): ReturnType<Fleet['once']> =>
      fleet.once('/books/book-0/operations', { body: { op: 'insert-rows', table: 'log', rows: [{ mark: text }] }, url })
    // Many are on their way when it is stopped.
    const early = Array.from({ length: 60 }, (_, at) => mark(`early-${at}`))
    await Promise.race(early)
    fleet.signal(owner, 'SIGSTOP')
    const stopped = performance.now()
    expect((await fleet.ask('/books/book-0', { url: second })).status).toBe(200)
    expect(performance.now() - stopped).toBeLessThan(5_000)
    expect((await mark('late', second))?.status).toBe(200)
    await pause(10_000 - (performance.now() - stopped))
    const writers = async (): Promise<string[]> =>
      (
        await fleet.database.query(
          `select distinct s.address from public.writes as w join mellow_store.servers as s on w.who = 'mellow-abacus ' || s.id order by 1`,
        )
      ).rows.map(({ address }) => address)
    // Only now it is noted who writes: the other one, to which what had not been begun yet is handed on.
    await fleet.database.query(`create table public.writes (who text);
      create function public.note_writer() returns trigger language plpgsql as $$ begin
        insert into public.writes values (current_setting('application_name')); return null; end $$;`)
    for (const table of ['journal', 'answers', 'chunks', 'snapshot'])
      await fleet.database.query(
        `create trigger writer after insert or update or delete on mellow_store.${table} for each row execute function public.note_writer()`,
      )
    fleet.signal(owner, 'SIGCONT')
    const answers = await Promise.all(early)
    await pause(2_000)
    expect(await writers()).not.toContain(first)
    // Those that it had kept before it was stopped are there; it says of no other that it is done.
    const { json } = await fleet.ask('/books/book-0/tables/log/rows?limit=1000', { url: second })
    const marks = new Set(json.rows.map(({ cells }: { cells: { mark: string } }) => cells.mark))
    const acknowledged = answers.flatMap((answer, at) => (answer?.status === 200 ? [`early-${at}`] : []))
    expect(acknowledged.filter((one) => !marks.has(one))).toEqual([])
    expect(answers.map((answer) => answer?.status)).toContain(503)
    // Asked again, it hands on.
    expect((await mark('again'))?.status).toBe(200)
    expect(await writers()).toEqual([second])
    expect(await fleet.booksOf(other)).toEqual(['book-0'])
  })

  test('a database that ends as in a crash and begins again loses nothing that was acknowledged', async () => {
    const names = await makeBooks(fleet, 4)
    const load = new Load(fleet, names, 6)
    for (let time = 0; time < 3; time++) {
      await pause(1_500)
      database.restart()
    }
    await pause(1_500)
    await load.end()
    expect(await load.faults()).toEqual(NOTHING)
    expect(load.edits).toBeGreaterThan(50)
  })

  test('one without a folder has its copies elsewhere, as long as it runs', async () => {
    const mellow = fileURLToPath(new URL('../../../cli/bin/mellow.js', import.meta.url))
    const args = [mellow, 'serve', '--store', database.address, '--port', '0', '--log', 'error']
    const copies = (): string[] => readdirSync(tmpdir()).filter((name) => name.startsWith('mellow-'))
    const before = copies()
    const child = spawn(process.execPath, args, { stdio: ['ignore', 'pipe', 'ignore'] })
    const ended = once(child, 'exit')
    for await (const line of createInterface({ input: child.stdout })) {
      expect((await fetch(`${line}/books`)).status).toBe(200)
      expect(copies().length).toBe(before.length + 1)
      child.kill('SIGTERM')
    }
    expect([await ended, copies()]).toEqual([[0, null], before])
  })

  test('one that is told to end gives its workbooks up at once', async () => {
    await makeBooks(fleet, 3)
    const owner = await ownerOf('book-0')
    await fleet.stop(owner)
    const began = performance.now()
    expect((await fleet.ask('/books/book-0')).status).toBe(200)
    // A lease that had to expire would take three seconds.
    expect(performance.now() - began).toBeLessThan(2_500)
  })
})
