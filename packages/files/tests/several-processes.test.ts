import { type ChildProcess, spawn } from 'node:child_process'
import { existsSync, mkdtempSync, readdirSync, rmSync, statSync, symlinkSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, describe, expect, test } from 'vitest'
import { BookFile, BookFileFault } from '../src/index.js'

/**
 * Several processes with one workbook: one writes at a time, the others wait and then hear who does. A sample; for long runs:
 * SECONDS=60 WRITERS=8 RACES=200 npx vitest run --project files several-processes
 */
const SECONDS = Number(process.env.SECONDS ?? 4)
const WRITERS = Number(process.env.WRITERS ?? 5)
const RACES = Number(process.env.RACES ?? 8)

const folder = mkdtempSync(join(tmpdir(), 'mellow-several-'))
afterAll(() => rmSync(folder, { recursive: true, force: true }))

const helper = (name: string): string => fileURLToPath(new URL(`helpers/${name}.mjs`, import.meta.url))

/** Starts one of the helpers. */
function start(name: string, ...args: readonly string[]): { child: ChildProcess; lines: string[]; ended: Promise<void> } {
  const child = spawn(process.execPath, [helper(name), ...args], { stdio: ['pipe', 'pipe', 'inherit'] })
  const lines: string[] = []
  let rest = ''
  child.stdout?.setEncoding('utf8').on('data', (text: string) => {
    const parts = (rest + text).split('\n')
    rest = parts.pop() ?? ''
    lines.push(...parts)
  })
  return { child, lines, ended: new Promise((resolve) => child.on('close', () => resolve())) }
}

async function until(isSo: () => boolean): Promise<void> {
  while (!isSo()) await new Promise((resolve) => setTimeout(resolve, 5))
}

function withTakes(name: string): string {
  const path = join(folder, name)
  const file = BookFile.create(path)
  file.apply({
    op: 'add-table',
    table: 'takes',
    columns: [
      { name: 'writer', type: 'text' },
      { name: 'n', type: 'number' },
      { name: 'twice', formula: 'n * 2' },
    ],
  })
  file.close()
  return path
}

const faultOf = (open: () => BookFile): BookFileFault | null => {
  try {
    open().close()
    return null
  } catch (error) {
    if (error instanceof BookFileFault) return error
    throw error
  }
}

test(`${WRITERS} processes that open, write and close one workbook for ${SECONDS} s lose nothing that was answered`, async () => {
  const path = withTakes('many.mellow')
  // Half of them know it by another name.
  const link = join(folder, 'many-link.mellow')
  symlinkSync(path, link)
  const writers = Array.from({ length: WRITERS }, (_, index) =>
    start('writer', index % 2 === 0 ? path : link, `w${index}`, String(SECONDS)),
  )
  await Promise.all(writers.map(({ ended }) => ended))
  const lines = writers.flatMap((one) => one.lines)
  expect(lines.filter((line) => !/^(ack|held)/.test(line))).toEqual([])
  const acknowledged = lines.filter((line) => line.startsWith('ack')).map((line) => line.slice(4))
  expect(acknowledged.length).toBeGreaterThan(WRITERS)
  const file = BookFile.open(path, { writes: false })
  const table = file.book.table('takes')
  const [names, numbers] = [table.column('writer').values(), table.column('n').values() as number[]]
  expect(names.map((name, row) => `${name} ${numbers[row]}`).sort()).toEqual(acknowledged.sort())
  expect(table.column('twice').values()).toEqual(numbers.map((n) => n * 2))
  expect(new Set(table.rowIds()).size).toBe(acknowledged.length)
  expect(file.book.revision).toBe(acknowledged.length + 1)
  file.close()
}, 600_000)

test('the right to write goes from one of three processes to the next, also past one that is killed', async () => {
  const path = withTakes('three.mellow')
  const first = start('holder', path, 'first')
  await until(() => first.lines.includes('holds'))
  const [second, third] = [start('holder', path, 'second'), start('holder', path, 'third')]
  const waiting = (): number => [second, third].filter(({ lines }) => lines.length > 0).length
  await new Promise((resolve) => setTimeout(resolve, 600))
  expect(waiting()).toBe(0)
  first.child.stdin?.write('go\n')
  await until(() => waiting() === 1)
  await new Promise((resolve) => setTimeout(resolve, 300))
  expect(waiting()).toBe(1)
  const [holding, last] = second.lines.length > 0 ? [second, third] : [third, second]
  holding.child.kill('SIGKILL')
  await until(() => last.lines.length > 0)
  last.child.stdin?.write('go\n')
  await Promise.all([first, second, third].map(({ ended }) => ended))
  const file = BookFile.open(path, { writes: false })
  expect(file.book.table('takes').rowCount).toBe(3)
  file.close()
}, 60_000)

describe('one who waits in vain', () => {
  test('hears who holds the workbook, by whichever name; looking goes on', async () => {
    const path = withTakes('held.mellow')
    const link = join(folder, 'held-link.mellow')
    symlinkSync(path, link)
    const holder = start('holder', path, 'one')
    await until(() => holder.lines.includes('holds'))
    for (const name of [path, link]) {
      const fault = faultOf(() => BookFile.open(name, { writes: true, waitMs: 200 }))
      expect(fault?.code).toBe('in-use')
      expect(fault?.message).toContain(`held by process ${holder.child.pid} of`)
      expect(fault?.message).toContain('Waited 0.2 seconds')
    }
    const looking = BookFile.open(link, { writes: false })
    expect(looking.book.table('takes').rowCount).toBe(1)
    looking.close()
    holder.child.stdin?.write('go\n')
    await holder.ended
    expect(faultOf(() => BookFile.open(path, { writes: true, waitMs: 0 }))).toBeNull()
  }, 30_000)

  test('in the same process does not wait at all', () => {
    const path = withTakes('twice.mellow')
    const file = BookFile.open(path, { writes: true })
    expect(faultOf(() => BookFile.open(path, { writes: true }))?.message).toContain('held by this process')
    file.close()
    expect(faultOf(() => BookFile.open(path, { writes: true }))).toBeNull()
  })
})

test('the file that is locked stays the same one', () => {
  const path = withTakes('lock.mellow')
  const before = statSync(`${path}-writer`).ino
  BookFile.open(path, { writes: true }).close()
  expect(statSync(`${path}-writer`).ino).toBe(before)
})

test(`of several processes that make one workbook one does, ${RACES} times`, async () => {
  for (let race = 0; race < RACES; race++) {
    const path = join(folder, `race-${race}.mellow`)
    const makers = ['a', 'b', 'c'].map((name) => start('creator', path, name))
    await Promise.all(makers.map(({ ended }) => ended))
    const said = makers.flatMap(({ lines }) => lines)
    const made = said.filter((line) => line.startsWith('made'))
    expect(said.filter((line) => line === 'exists').length).toBe(2)
    const file = BookFile.open(path, { writes: false })
    expect(made).toEqual([`made ${file.book.value('maker')}`])
    file.close()
    for (const part of readdirSync(folder)) if (part.startsWith('race-')) rmSync(join(folder, part))
    expect(existsSync(path)).toBe(false)
  }
}, 600_000)
