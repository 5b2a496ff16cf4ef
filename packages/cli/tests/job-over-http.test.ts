import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { DEMO_SEED, demoCsv, thistleAndComb } from '@mellow-abacus/demo'
import { unzipSync } from 'fflate'
import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest'
import { Served } from '../../server/tests/helpers/serve.js'
import { run } from '../src/main.js'
import { type Io, makePaint } from '../src/shell/index.js'
import { showWorkbook } from '../src/verbs/demo/demo-workbook.js'
import type { RunCommand } from '../src/verbs/verb.js'
import { folderWith, mellowHere } from './run-mellow.js'

/** The job from import to hand-over, at the terminal and over HTTP: the workbooks are the same. */

const folder = folderWith(Object.fromEntries(thistleAndComb(DEMO_SEED).map((table) => [`${table.name}.csv`, demoCsv(table)])))
const book = join(folder, 'thistle-and-comb.mellow')
let served: Served
let token = ''

/** What is typed at the terminal, and what comes of it. */
const typed: string[][] = []
let here: Record<string, string> = {}

beforeAll(async () => {
  served = await Served.begin()
  token = served.token('Olga', 'own', { books: ['*'] })
  vi.stubEnv('MELLOW_TOKEN', token)
  const atTerminal: RunCommand = (args, to) => {
    typed.push([...args])
    return run(args, to)
  }
  await showWorkbook(folder, atTerminal, io, makePaint(false))
  here = await bundleOf(book)
  expect(Object.keys(here).length).toBeGreaterThan(8)
})
afterAll(async () => {
  vi.unstubAllEnvs()
  await served.close()
})

const silent = { out: () => undefined, show: () => undefined, err: () => undefined }
const io: Io = { ...silent, isTerminal: false, showsProgress: false, colours: false, columns: 120, input: Readable.from([]) }

const TIMES = /\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d|(?<="now": )\d+/g

/** What a workbook is, as its bundle says; times of the clock are those of the run. */
async function bundleOf(name: string): Promise<Record<string, string>> {
  const path = join(folder, 'bundle.zip')
  const { code, err } = await mellowHere(['export', name, '-o', path])
  expect([code, err]).toEqual([0, err])
  const parts = Object.entries(unzipSync(readFileSync(path)))
  const text = (bytes: Uint8Array): string => Buffer.from(bytes).toString().replace(TIMES, '<time>')
  return Object.fromEntries(parts.map(([part, bytes]) => [part, text(bytes)]))
}

/** The first lines in which parts of two bundles differ. */
function differences(one: Record<string, string>, other: Record<string, string>): string[] {
  return [...new Set([...Object.keys(one), ...Object.keys(other)])].flatMap((part) => {
    const [here, there] = [one, other].map((bundle) => (bundle[part] ?? 'nothing').split('\n')) as [string[], string[]]
    const at = here.findIndex((line, index) => line !== there[index])
    return at === -1 && here.length === there.length ? [] : [`${part}, line ${at + 1}: ${here[at]} | ${there[at]}`]
  })
}

/** An operation without the ids that the journal has: over HTTP they are given by the server. */
function withoutIds(value: unknown): unknown {
  if (Array.isArray(value)) return value.map(withoutIds)
  if (typeof value !== 'object' || value === null) return value
  const kept = Object.entries(value).filter(([name]) => name !== 'id' && name !== 'ids')
  return Object.fromEntries(kept.map(([name, inner]) => [name, withoutIds(inner)]))
}

describe('the job gives the same workbook as at the terminal', () => {
  test('by the same verbs at an address', async () => {
    const url = `${served.url}/books/by-verbs`
    for (const args of typed) {
      const there = args.map((one) => (one === book ? url : one))
      expect([args, await run(there, io)]).toEqual([args, 0])
    }
    expect(differences(here, await bundleOf(url))).toEqual([])
  }, 120_000)

  test('by requests alone', async () => {
    const ask = async (path: string, body: unknown): Promise<void> => {
      const headers = { authorization: `Bearer ${token}`, 'content-type': 'application/json' }
      const answer = await fetch(served.url + path, { method: 'POST', headers, body: JSON.stringify(body) })
      expect([path, answer.ok ? '' : (await answer.text()).slice(0, 1_000)]).toEqual([path, ''])
    }
    await ask('/books', { name: 'by-requests' })
    const steps = (await mellowHere(['journal', book])).out.trim().split('\n')
    expect(steps.length).toBeGreaterThan(40)
    for (const line of steps) {
      const { kind, operations } = JSON.parse(line) as { kind: 'apply' | 'undo' | 'redo'; operations: unknown }
      if (kind === 'apply') await ask('/books/by-requests/operations', withoutIds(operations))
      else await ask(`/books/by-requests/${kind}`, {})
    }
    expect(differences(here, await bundleOf(`${served.url}/books/by-requests`))).toEqual([])
  }, 120_000)
})
