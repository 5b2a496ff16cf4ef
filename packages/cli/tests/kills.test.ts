import { spawn } from 'node:child_process'
import { copyFileSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
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
  file.applyJson([
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

/** A verb at work on a workbook or a file, the rows of the workbook before and after it, and the file it writes. */
interface Work {
  readonly args: readonly string[]
  readonly rows: readonly [before: number | null, after: number]
}

const ROWS = 60_000
const CSV = `n,kg\n${Array.from({ length: ROWS }, (_, row) => `${row},${row / 8}`).join('\n')}\n`
const LONGER = `${CSV}${Array.from({ length: 500 }, (_, row) => `${ROWS + row},1`).join('\n')}\n`

/** The rows of a table of a workbook; null where there is no workbook. */
function rowsOf(path: string): number | null {
  if (!existsSync(path)) return null
  const file = BookFile.open(path, { writes: false })
  try {
    const table = file.book.table('rows')
    const n = table.column('n').values()
    expect(n).toEqual(n.map((_, row) => row))
    expect(table.columns.find(({ name }) => name === 'twice')?.values() ?? []).toHaveLength(
      table.columns.length === 3 ? n.length : 0,
    )
    return n.length
  } finally {
    file.close()
  }
}

/** Kills a verb after a while; true where it had ended before. */
async function killed(args: readonly string[], milliseconds: number): Promise<boolean> {
  const child = spawn(process.execPath, [bin, ...args], { stdio: 'ignore', cwd: folder })
  const timer = setTimeout(() => child.kill('SIGKILL'), milliseconds)
  const [code] = await new Promise<[number | null]>((resolve) => child.on('exit', (exit) => resolve([exit])))
  clearTimeout(timer)
  return code === 0
}

async function ended(...args: readonly string[]): Promise<void> {
  expect(await killed(args, 120_000)).toBe(true)
}

test(`imports, readings, replays and exports that are killed leave what was, or what was to be, ${Math.ceil(kills / 2)} times`, async () => {
  writeFileSync(join(folder, 'rows.csv'), CSV)
  writeFileSync(join(folder, 'longer.csv'), LONGER)
  await ended('import', 'base', 'rows.csv', '--key', 'n')
  await ended('define', 'base', 'rows', 'twice = kg * 2')
  await ended('journal', 'base', '-o', 'steps.ndjson')
  await ended('export', 'base', 'rows', '-o', 'whole.csv')
  const whole = readFileSync(join(folder, 'whole.csv'), 'utf8')
  const base = join(folder, 'base.mellow')
  const works: readonly ((name: string) => Work)[] = [
    (name) => ({ args: ['import', name, 'rows.csv', '--table', 'rows'], rows: [null, ROWS] }),
    (name) => ({ args: ['reread', name, 'rows', 'longer.csv'], rows: [ROWS, ROWS + 500] }),
    (name) => ({ args: ['replay', 'steps.ndjson', name], rows: [null, ROWS] }),
    (name) => ({ args: ['export', name, 'rows', '-o', 'out.csv'], rows: [ROWS, ROWS] }),
  ]
  for (let kill = 0; kill < Math.ceil(kills / 2); kill++) {
    const name = `killed${kill}`
    const path = join(folder, `${name}.mellow`)
    const { args, rows } = (works[kill % works.length] as (typeof works)[number])(name)
    if (rows[0] !== null) copyFileSync(base, path)
    writeFileSync(join(folder, 'out.csv'), 'former\n')
    const isDone = await killed(args, 250 + 1200 * ((kill * 0.618_033_988_75) % 1))
    const isReplay = args[0] === 'replay'
    const found = isReplay && existsSync(path) && revisionOf(path) === 0 ? null : rowsOf(path)
    expect(isDone ? [rows[1]] : [...rows]).toContain(found)
    if (args[0] === 'export') expect([isDone ? '' : 'former\n', whole]).toContain(readFileSync(join(folder, 'out.csv'), 'utf8'))
    for (const part of ['', '-wal', '-shm', '-writer', '-new', '-new-journal']) rmSync(path + part, { force: true })
  }
}, 3_600_000)

function revisionOf(path: string): number {
  const file = BookFile.open(path, { writes: false })
  const { revision } = file.book
  file.close()
  return revision
}
