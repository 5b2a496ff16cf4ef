import { type ChildProcess, spawn } from 'node:child_process'
import { existsSync, mkdirSync, statSync, writeFileSync } from 'node:fs'
import { createServer } from 'node:net'
import { join } from 'node:path'
import { startServer } from '@mellow-abacus/server'
import { connect } from '@mellow-abacus/session'
import { afterAll, beforeAll, describe, expect, test } from 'vitest'
import { Served } from '../../server/tests/helpers/serve.js'
import { HoneyBook } from './honey-book.js'
import { bin, folderWith, mellow } from './run-mellow.js'

/** `mellow desk` as a process, and verbs on a workbook that a server has open. */

const book = new HoneyBook()
const children: ChildProcess[] = []
afterAll(() => {
  for (const child of children) child.kill('SIGKILL')
})

/** Starts the desk; gives the lines that it printed first, and how it is ended. */
async function desk(...args: readonly string[]): Promise<{ address: string; said: string; end: () => Promise<number | null> }> {
  const child = spawn(process.execPath, [bin, 'desk', ...args], { cwd: book.folder, env: { ...process.env, NO_COLOR: '1' } })
  children.push(child)
  let said = ''
  child.stderr.setEncoding('utf8').on('data', (text: string) => {
    said += text
  })
  const address = await new Promise<string>((resolve, reject) => {
    child.stdout.setEncoding('utf8').once('data', (text: string) => resolve(text.trim()))
    child.once('exit', () => reject(new Error(said)))
  })
  const ended = new Promise<number | null>((resolve) => child.once('exit', resolve))
  return {
    address,
    get said() {
      return said
    },
    end: () => {
      child.kill('SIGTERM')
      return ended
    },
  }
}

interface Entered {
  readonly token: string
  readonly books: readonly { readonly name: string; readonly role: string }[]
}

async function enter(address: string): Promise<{ status: number; origin: string; entered: Entered }> {
  const { origin, hash } = new URL(address)
  const invitation = new URLSearchParams(hash.slice(1)).get('invitation')
  const answer = await fetch(`${origin}/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ invitation }),
  })
  return { status: answer.status, origin, entered: (await answer.json()) as Entered }
}

describe('the desk', () => {
  test('serves the page and one workbook to who was invited, once', async () => {
    const at = await desk('honey', '--no-open')
    const { status, origin, entered } = await enter(at.address)
    expect([status, entered.books]).toEqual([200, [{ name: 'honey', role: 'own' }]])
    expect((await enter(at.address)).status).toBe(403)
    expect((await fetch(`${origin}/books/honey`)).status).toBe(401)
    const page = await fetch(origin, { headers: { 'accept-encoding': 'gzip' } })
    expect(await page.text()).toContain('<title>Mellow Abacus</title>')
    expect(page.headers.get('content-security-policy')).toMatch(/script-src 'self' 'wasm-unsafe-eval';.*frame-ancestors 'none'/)
    expect([page.headers.get('content-encoding'), Number(page.headers.get('content-length'))]).toEqual([
      'gzip',
      expect.toSatisfy((bytes: number) => bytes > 100),
    ])
    const session = await connect(`${origin}/books/honey`, { token: entered.token })
    const heard: number[] = []
    session.on((event) => {
      if (event.kind === 'change') heard.push(event.revision)
    })
    // The terminal works with the same workbook meanwhile, and both see what is done.
    expect(await book.all(['set', 'honey', 'takes', '1', 'kg=7', '--author', 'Ada'])).toMatch(/takes\.kg of row id:1 set to 7/)
    expect((await session.row('takes', 1))?.cells.kg).toBe(7)
    expect((await session.history()).steps.at(-1)).toMatchObject({ author: 'Ada', what: 'takes.kg of row id:1 set to 7' })
    await session.apply({ op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'kg', value: 8 }] })
    expect(await book.all(['show', 'honey', 'takes', '--limit', '1'])).toContain('A,8,')
    await expect.poll(() => heard.length, { timeout: 5_000 }).toBeGreaterThanOrEqual(2)
    expect(statSync(join(book.folder, 'honey.mellow-host')).mode & 0o777).toBe(0o600)
    // Asked for again, it is not opened twice: the one that runs invites once more.
    const again = await mellow(['desk', 'honey', '--no-open'], { folder: book.folder })
    expect([again.code, new URL(again.out.trim()).origin, again.err]).toEqual([0, origin, expect.stringContaining('already')])
    expect((await enter(again.out.trim())).status).toBe(200)
    await session.close()
    expect(await at.end()).toBe(0)
    expect(existsSync(join(book.folder, 'honey.mellow-host'))).toBe(false)
    expect(await book.all(['show', 'honey', 'takes', '--limit', '1'])).toContain('A,8,')
  })

  test('opens the page alone', async () => {
    const at = await desk('--no-open')
    const { status, origin, entered } = await enter(at.address)
    expect([status, entered.books]).toEqual([200, []])
    expect((await fetch(`${origin}/`)).status).toBe(200)
    const made = await fetch(`${origin}/books`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${entered.token}` },
      body: '{"name":"other"}',
    })
    expect(made.status).toBe(403)
    expect(await at.end()).toBe(0)
  })

  test.each([
    [
      ['desk', 'none'],
      2,
      /there is no none\.mellow\. Make one: mellow new, or mellow import; or open the page alone: mellow desk/,
    ],
    [['desk', 'honey', '--port', 'x'], 2, /port/],
    [['desk', 'hives.csv'], 2, /hives\.csv/],
  ])('%j says what is wrong', async (args, code, message) => {
    const run = await mellow([...args, '--no-open'], { folder: book.folder })
    expect([run.code, run.out, run.err]).toEqual([code, '', expect.stringMatching(message)])
  })
})

describe('a workbook that a server has open', () => {
  let served: Served
  let folder = ''
  beforeAll(async () => {
    served = await Served.begin()
    folder = served.folder
    await book.run('new', join(folder, 'held'))
    const session = await connect(`${served.url}/books/held`, { token: served.token('Olga', 'own', { books: ['held'] }) })
    await session.apply({ op: 'add-table', table: 't', columns: [{ name: 'a', type: 'number' }] })
    await session.close()
  })
  afterAll(() => served.close())

  test('is changed through it, by verbs of any kind', async () => {
    const held = join(folder, 'held')
    expect(
      await book.all(
        ['rows', held, 't', 'add', 'a=1'],
        ['define', held, 't', 'b = a * 2'],
        ['set', held, 't', '1', 'a=21', '--preview'],
        ['set', held, 't', '1', 'a=21'],
        ['undo', held],
        ['redo', held],
        ['show', held, 't'],
      ),
    ).toBe('a,b\n21,42\n')
    const { code, err } = await book.run('define', held, 't', 'c = nope')
    expect([code, err]).toEqual([1, expect.stringContaining('unknown-name')])
  })

  test('with a socket that was left behind is opened as any other', async () => {
    const left = folderWith({})
    await book.run('new', join(left, 'honey'))
    writeFileSync(join(left, 'honey.mellow-host'), '')
    expect((await book.run('table', join(left, 'honey'), 't', 'a')).code).toBe(0)
    const silent = createServer((socket) => socket.destroy())
    const other = join(left, 'other.mellow')
    await book.run('new', other)
    await new Promise<void>((resolve) => silent.listen(`${other}-host`, resolve))
    expect((await book.run('table', other, 't', 'a')).code).toBe(0)
    await new Promise((resolve) => silent.close(resolve))
  })

  test('in a folder with a long name is served, and found from near by', async () => {
    const deep = join(folderWith({}), 'x'.repeat(60), 'y'.repeat(60))
    mkdirSync(deep, { recursive: true })
    await book.run('new', join(deep, 'far'))
    const far = await startServer({ folder: deep, port: 0, log: 'silent', rate: 0 })
    const session = await connect(`${far.url}/books/far`)
    await session.apply({ op: 'add-table', table: 't', columns: [{ name: 'a' }] })
    expect((await session.facts()).tables.map(({ name }) => name)).toEqual(['t'])
    await session.close()
    await far.close()
  })
})
