import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { connect } from '@mellow-abacus/session'
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest'
import { Served } from '../../server/tests/helpers/serve.js'
import { folderWith, mellowHere, type Run } from './run-mellow.js'

/** Verbs on workbooks that a server has, by their address. */

const HIVES = 'code,apiary,cost\nLM-01,Mill Wood,30\nLM-02,Heron Reach,25\n'
const HARVESTS = 'hive,taken,honey_kg\nLM-01,2026-06-01,12.5\nLM-02,2026-06-02,9\n'
const folder = folderWith({ 'hives.csv': HIVES, 'harvests.csv': HARVESTS })
let served: Served
let olga = ''
let url = ''

/** Types a command as someone who has a token, or none. */
async function mellow(...args: readonly string[]): Promise<Run> {
  return mellowHere(args, { folder })
}

async function typed(...args: readonly string[]): Promise<string> {
  const { code, out, err } = await mellow(...args)
  expect([code, err]).toEqual([0, err])
  return out
}

beforeAll(async () => {
  served = await Served.begin()
  olga = served.token('Olga', 'own', { books: ['*'] })
  url = `${served.url}/books/takings`
  vi.stubEnv('MELLOW_TOKEN', olga)
  await typed('new', url)
  await typed('import', url, 'hives.csv', '--key', 'code')
  await typed('import', url, 'harvests.csv')
  await typed('link', url, 'harvests.hive -> hives.code')
  await typed('define', url, 'hives', 'honey = sum(harvests.honey_kg)')
})
afterAll(async () => {
  vi.unstubAllEnvs()
  await served.close()
})

describe('a workbook at a server', () => {
  test('is made, filled, defined and looked at by the same verbs as a file', async () => {
    expect(await typed('show', url, 'hives')).toBe('code,apiary,cost,honey\nLM-01,Mill Wood,30,12.5\nLM-02,Heron Reach,25,9\n')
    expect(await typed('why', url, 'hives.honey', '1')).toContain('hives.honey, row 1: 12.5 = sum(harvests.honey_kg)')
    expect(await typed('list', url, 'column')).toContain('column,hives.honey,number,,sum(harvests.honey_kg),,2,')
    await typed('export', url, 'hives', '-o', 'out.csv')
    expect(readFileSync(join(folder, 'out.csv'), 'utf8')).toContain('LM-02,Heron Reach,25,9\n')
  })

  test('tells what followed an edit, as the server has it', async () => {
    expect(await typed('set', url, 'harvests', '2', 'honey_kg=11', '--preview')).toContain('9 → 11')
    expect(await typed('set', url, 'harvests', '2', 'honey_kg=10')).toMatch(
      /^revision \d+ {2}harvests\.honey_kg of row id:2 set to 10\n {2}written +harvests\.honey_kg 1 cell\n {2}recalculated +hives\.honey 1 cell\n$/,
    )
    const session = await connect(url, { token: olga })
    expect((await session.row('hives', 2))?.cells.honey).toBe(10)
    expect((await session.history()).steps.at(-1)).toMatchObject({
      author: 'Olga',
      what: 'harvests.honey_kg of row id:2 set to 10',
    })
    await session.close()
  })

  test('refuses as a file does, and stays as it was', async () => {
    const { code, out, err } = await mellow('define', url, 'hives', 'x = honney + 1')
    expect([code, out]).toEqual([1, ''])
    expect(err).toBe(
      'hives.x: error unknown-name: Table hives has no column or value called honney. Nearest name: honey.\n  honney + 1\n  ^^^^^^\n  fix: Use honey\nNothing was changed.\n',
    )
  })

  test('takes one’s own last step back, and nobody else’s', async () => {
    const ava = await connect(url, { token: served.token('Ava', 'edit', { books: ['takings'] }) })
    await typed('hide', url, 'hives.cost', '--from', 'buyers')
    await ava.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 14 }] })
    expect(await typed('groups', url)).toContain('buyers,hives.cost')
    expect(await typed('undo', url, '--preview')).toContain('undo: hives.cost hidden from no group any more')
    expect(await typed('undo', url)).toContain('undo: hives.cost hidden from no group any more')
    expect(await typed('redo', url)).toContain('redo: hives.cost hidden from buyers')
    expect((await ava.row('harvests', 1))?.cells.honey_kg).toBe(14)
    await ava.close()
  })

  test('tells whom an edit met', async () => {
    const ava = await connect(url, { token: served.token('Ava', 'edit', { books: ['takings'] }) })
    const { revision } = await ava.facts()
    const steps = `${JSON.stringify({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 8 }] })}\n`
    // What is typed is applied line by line; the other one writes between the copy and the line.
    const input = (async function* () {
      await ava.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 1, column: 'honey_kg', value: 15 }] })
      yield steps
    })()
    const text: string[] = []
    const { run } = await import('../src/main.js')
    const io = { out: () => undefined, show: () => undefined, err: (one: string) => void text.push(one) }
    const shell = { isTerminal: false, showsProgress: false, colours: false, columns: 120, input }
    expect(await run(['apply', url, '-'], { ...io, ...shell } as never)).toBe(0)
    expect(text.join('')).toMatch(
      new RegExp(
        `^harvests\\.honey_kg of row id:1: Ava at [\\d-]+T[\\d:]+ \\(revision ${revision + 1}\\) had written 15 meanwhile; yours stands: 8\n$`,
      ),
    )
    await ava.close()
  })

  test('does what the server knows and the copy does not yet', async () => {
    const ava = await connect(url, { token: served.token('Ava', 'define', { books: ['takings'] }) })
    const other = { op: 'add-column', table: 'harvests', column: { name: 'jars', type: 'integer' } } as const
    const input = (async function* () {
      await ava.apply(other)
      yield `${JSON.stringify({ op: 'insert-rows', table: 'harvests', rows: [{ hive: 'LM-02', honey_kg: 1, jars: 3 }] })}\n`
    })()
    const out: string[] = []
    const { run } = await import('../src/main.js')
    const shell = { isTerminal: false, showsProgress: false, colours: false, columns: 120, input }
    const io = { out: (one: string) => void out.push(one), show: () => undefined, err: () => undefined }
    const { revision } = await ava.facts()
    expect(await run(['apply', url, '-'], { ...io, ...shell } as never)).toBe(0)
    expect(out.join('')).toBe(`${revision + 2}\n`)
    await ava.close()
  })
})

describe('what a server does not give', () => {
  test.each([
    [
      'a token that is none',
      () => ({ token: 'guessed', args: ['list', url] }),
      1,
      'it takes a token that is good: put one into the environment as MELLOW_TOKEN.',
    ],
    [
      'a role too low',
      () => ({ token: served.token('Ava', 'define', { books: ['takings'] }), args: ['list', url] }),
      1,
      'this takes the role own, and yours is define.',
    ],
    [
      'a workbook that there is not',
      () => ({ token: olga, args: ['list', `${served.url}/books/none`] }),
      1,
      'there is no such workbook, or it is not open to you.',
    ],
    ['a name that is taken', () => ({ token: olga, args: ['new', url] }), 1, 'there is a workbook of this name already.'],
    [
      'a name that is none',
      () => ({ token: olga, args: ['new', `${served.url}/books/a%20b`] }),
      1,
      'a name takes letters, digits, hyphens and underscores.',
    ],
    [
      'making, to one who owns one alone',
      () => ({ token: served.token('Bo', 'own'), args: ['import', `${served.url}/books/other`, 'hives.csv'] }),
      1,
      'workbooks are made by owners of all of them.',
    ],
    [
      'another author',
      () => ({ token: olga, args: ['set', url, 'hives', '1', 'cost=1', '--author', 'Bo'] }),
      2,
      'at a server the author is the one whose token it is, so --author cannot be given.',
    ],
    [
      'a journal replayed',
      () => ({ token: olga, args: ['replay', 'steps.ndjson', url] }),
      2,
      'a journal is replayed into a workbook of its own',
    ],
    [
      'no server',
      () => ({ token: olga, args: ['list', 'http://127.0.0.1:9/books/honey'] }),
      1,
      'the server cannot be reached at the moment.',
    ],
  ] as const)('%s', async (_, given, code, message) => {
    const { token, args } = given()
    vi.stubEnv('MELLOW_TOKEN', token)
    try {
      const run = await mellow(...args)
      expect([run.code, run.out]).toEqual([code, ''])
      expect(run.err).toContain(message)
    } finally {
      vi.stubEnv('MELLOW_TOKEN', olga)
    }
  })
})
