import { spawn } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { createInterface } from 'node:readline'
import { BookFile } from '@mellow-abacus/files'
import { afterAll, expect, test } from 'vitest'

/**
 * Processes killed while operations stream in: whatever was acknowledged is in the file, nothing half done. A sample; for a
 * long run: KILLS=500 npx vitest run --project cli kills
 */
const kills = Number(process.env.KILLS ?? 8)
const folder = mkdtempSync(join(tmpdir(), 'mellow-kills-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const bin = new URL('../bin/mellow.js', import.meta.url).pathname

/** Step number n of the stream: two rows in one step, now and then a step that takes some away or defines something. */
function step(n: number): object[] {
  const rows = [
    { n, kg: n % 7 },
    { n, kg: null },
  ]
  const extra = n % 40 === 0 ? [{ op: 'add-column', table: 'takes', column: { name: `x${n}`, formula: `kg * ${n}` } }] : []
  const cells = n % 5 === 0 ? [{ op: 'set-cells', table: 'takes', cells: [{ row: 1, column: 'kg', value: n }] }] : []
  return [{ op: 'insert-rows', table: 'takes', rows }, ...extra, ...cells]
}

/**
 * Streams steps into the tool, kills it after a while, and gives the last revision that it had acknowledged.
 *
 * @param isAtWork - whether the time begins with the first step acknowledged, and not with the tool: how long that takes to
 * start is the machine's affair
 */
async function streamAndKill(path: string, from: number, milliseconds: number, isAtWork: boolean): Promise<number> {
  const child = spawn(process.execPath, [bin, 'apply', path, '-'], { stdio: ['pipe', 'pipe', 'inherit'] })
  const kill = (): void => void child.kill('SIGKILL')
  let acknowledged = from
  child.stdin.on('error', () => undefined)
  const lines = createInterface({ input: child.stdout })
  const ended = new Promise<void>((resolve) => child.on('exit', () => resolve()))
  const read = (async () => {
    for await (const line of lines) {
      if (isAtWork && acknowledged === from) setTimeout(kill, milliseconds)
      acknowledged = Number(line)
    }
  })()
  let next = from + 1
  const feed = (): void => {
    // A write that fills the pipe is a write all the same.
    let hasRoom = true
    while (child.exitCode === null && !child.killed && hasRoom) hasRoom = child.stdin.write(`${JSON.stringify(step(next++))}\n`)
    if (child.exitCode === null && !child.killed) child.stdin.once('drain', feed)
  }
  feed()
  if (!isAtWork) setTimeout(kill, milliseconds)
  await ended
  await read
  return acknowledged
}

/** Opens the file and holds it to the steps it says it has. */
function hold(path: string, acknowledged: number): number {
  const file = BookFile.open(path, { writes: false })
  try {
    const { revision } = file.book
    expect(revision).toBeGreaterThanOrEqual(acknowledged)
    const table = file.book.table('takes')
    // Revision 1 made the table; each further one is one step.
    const steps = Array.from({ length: revision - 1 }, (_, index) => index + 2)
    expect(table.column('n').values()).toEqual(steps.flatMap((n) => [n, n]))
    const kg = steps.flatMap((n) => [n % 7, null]) as (number | null)[]
    const last = steps.filter((n) => n % 5 === 0).at(-1)
    if (last !== undefined) kg[0] = last
    expect(table.column('kg').values()).toEqual(kg)
    const defined = steps.filter((n) => n % 40 === 0).map((n) => `x${n}`)
    expect(table.columns.map(({ name }) => name)).toEqual(['n', 'kg', 'jars', ...defined])
    expect(table.column('jars').values()).toEqual(kg.map((one) => (one === null ? null : one * 2)))
    const sum = kg.reduce((total: number, one) => total + (one ?? 0), 0)
    expect(table.tally('total')).toBe(kg.length === 0 ? null : sum)
    return revision
  } finally {
    file.close()
  }
}

/** A workbook with a table the stream fills: revision 1. */
function started(name: string): string {
  const path = join(folder, name)
  const file = BookFile.create(path)
  const columns = [
    { name: 'n', type: 'number' },
    { name: 'kg', type: 'number' },
    { name: 'jars', formula: 'kg * 2' },
  ]
  file.apply([
    { op: 'add-table', table: 'takes', columns },
    { op: 'set-tally', table: 'takes', name: 'total', formula: 'sum(kg)' },
  ])
  file.close()
  return path
}

test(`after ${kills} kills nothing acknowledged is lost and nothing is half done`, async () => {
  let path = ''
  let revision = 1
  let killedAtWork = 0
  for (let kill = 0; kill < kills; kill++) {
    // Each kill goes on from the last; now and then from the beginning, or a long run would have files without end.
    if (kill % 25 === 0) [path, revision] = [started(`takes-${kill}.mellow`), 1]
    // From before the tool has opened the file to well into the stream; a sequence that fills the span evenly.
    const wait = 150 + 900 * ((kill * 0.618_033_988_75) % 1)
    const acknowledged = await streamAndKill(path, revision, wait, kill % 2 === 1)
    if (acknowledged > revision) killedAtWork++
    revision = hold(path, acknowledged)
  }
  expect(killedAtWork).toBeGreaterThan(0)
}, 3_600_000)
