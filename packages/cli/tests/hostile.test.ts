import { execFile, execFileSync, spawnSync } from 'node:child_process'
import {
  chmodSync,
  existsSync,
  lstatSync,
  mkdirSync,
  readdirSync,
  readFileSync,
  statSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { folderWith, mellow, mellowHere, type Run } from './run-mellow.js'

/** Outputs onto what must not go, texts that steer terminals, places that cannot be read or written: each with its words. */

const T = 'tag,kg\nA,1\nB,2\n'

async function withBook(
  files: Record<string, string> = {},
): Promise<{ folder: string; run: (...args: string[]) => Promise<Run> }> {
  const folder = folderWith({ 't.csv': T, ...files })
  const run = (...args: string[]): Promise<Run> => mellowHere(args, { folder })
  expect((await run('import', 'b', 't.csv')).code).toBe(0)
  return { folder, run }
}

describe('-o', () => {
  test.each([
    ['export', ['export', 'b', 't', '-o', 'b.mellow', '--to', 'csv']],
    ['export to a link', ['export', 'b', 't', '-o', 'link.csv', '--to', 'csv']],
    ['journal', ['journal', 'b', '-o', 'b.mellow']],
    ['calc', ['calc', 't.csv', '-o', 'b.mellow', '--to', 'csv']],
    ['the lock', ['export', 'b', 't', '-o', 'b.mellow-writer', '--to', 'csv']],
  ])('never writes over a workbook: %s', async (_, args) => {
    const { folder, run } = await withBook()
    symlinkSync('b.mellow', join(folder, 'link.csv'))
    const { code, err } = await run(...args)
    expect([code, err]).toEqual([1, expect.stringContaining('is a workbook, or belongs to one; it is not written over')])
    expect((await run('show', 'b')).out).toBe(T)
  })

  test('keeps modes and links, and writes into pipes and devices', async () => {
    const { folder } = await withBook({ 'real.csv': 'old\n' })
    const run = (...args: string[]): Promise<Run> => mellow(args, { folder })
    chmodSync(join(folder, 'real.csv'), 0o640)
    symlinkSync('real.csv', join(folder, 'link.csv'))
    expect((await run('export', 'b', 't', '-o', 'link.csv')).code).toBe(0)
    expect(lstatSync(join(folder, 'link.csv')).isSymbolicLink()).toBe(true)
    expect(readFileSync(join(folder, 'real.csv'), 'utf8')).toBe(T)
    expect(statSync(join(folder, 'real.csv')).mode & 0o777).toBe(0o640)
    execFileSync('mkfifo', [join(folder, 'pipe')])
    const [, text] = await Promise.all([
      run('export', 'b', 't', '-o', 'pipe'),
      new Promise<string>((resolve, reject) => {
        execFile('cat', [join(folder, 'pipe')], (error, out) => (error === null ? resolve(out) : reject(error)))
      }),
    ])
    expect(text).toBe(T)
    expect(lstatSync(join(folder, 'pipe')).isFIFO()).toBe(true)
    const full = await run('export', 'b', 't', '-o', '/dev/full')
    expect([full.code, full.err]).toEqual([2, expect.stringContaining('cannot write /dev/full: there is no room left.')])
    expect((await run('export', 'b', 't', '-o', '/dev/null')).code).toBe(0)
    expect(existsSync('/dev/null')).toBe(true)
  }, 60_000)

  test('a part that a killed one left behind stops nobody', async () => {
    const { folder, run } = await withBook()
    writeFileSync(join(folder, `.out.csv.${process.pid}.part`), 'left')
    expect((await run('export', 'b', 't', '-o', 'out.csv')).code).toBe(0)
  })

  test('an ending that says no format is refused with those that do', async () => {
    const { run } = await withBook()
    const { code, err } = await run('export', 'b', 't', '-o', 'out.foo')
    expect([code, err]).toEqual([2, expect.stringContaining('the ending of out.foo says no format; there are .csv, .tsv')])
    expect((await run('export', 'b', 't', '-o', 'out.foo', '--to', 'tsv')).code).toBe(0)
  })
})

test.each([
  ['calc', ['calc', 'b.mellow', 'x = 1']],
  ['import', ['import', 'b', 'b.mellow']],
  ['a copy of another name', ['calc', 'copy.csv', 'x = 1']],
])('a workbook in place of a file of rows is told to be one: %s', async (_, args) => {
  const { folder, run } = await withBook()
  writeFileSync(join(folder, 'copy.csv'), readFileSync(join(folder, 'b.mellow')))
  const { code, err } = await run(...args)
  expect([code, err]).toEqual([2, expect.stringContaining('is a workbook, not a file of rows. To look at it: mellow show')])
})

describe('what would steer a terminal is shown instead', () => {
  const EVIL = '\u001b[31mred\u0007\u009b2J\u202eabc'
  const STEERING = /[^\P{Cc}\n\t]|[\u202a-\u202e\u2066-\u2069]/u

  test('in cells, headings, authors, notes and units, wherever they are told of', async () => {
    const folder = folderWith({ 't.csv': `tag,"${EVIL}"\n"${EVIL}",1\n"${EVIL}2",x\n` })
    const run = (...args: string[]): Promise<Run> => mellowHere(args, { folder })
    const told: Run[] = [
      await run('import', 'b', 't.csv', '--author', EVIL),
      await run('describe', 'b', 't.tag', '--note', EVIL, '--unit', EVIL, '--author', EVIL),
      await run('define', 'b', 't', "twice = tag & '!'", '--preview'),
      await run('define', 'b', 't', "twice = tag & '!'", '--author', EVIL),
      await run('rule', 'b', 't', `odd: tag = 'x'`, '--note', EVIL),
      await run('why', 'b', 't.twice', '1'),
      await run('list', 'b', '--to', 'table'),
      await run('show', 'b', '--to', 'table'),
      await run('history', 'b'),
      await run('check', 'b'),
      await run('describe', 'b', 't.tag'),
      await run('set', 'b', 't', '1', `tag=${EVIL}3`),
      await run('explain', `'${EVIL}' & tag`),
      await run('show', `b${EVIL}`),
      await run(`no${EVIL}`),
      await mellow(['show', 'b', '--to', 'table'], { folder }),
      await mellow(['history', 'b'], { folder }),
    ]
    for (const { out, err } of told) expect(STEERING.exec(out + err)?.[0], JSON.stringify(out + err)).toBeUndefined()
    expect(told[8]?.out).toContain('⟨U+001B⟩[31mred⟨U+0007⟩⟨U+009B⟩2J⟨U+202E⟩abc')
    // For programs the texts are as they are.
    expect((await run('show', 'b', '--columns', 'tag', '--limit', '1')).out).toContain(`${EVIL}3`)
  }, 120_000)
})

/** Runs the tool as another user, which only the superuser can. */
function runAs(user: number, folder: string, args: readonly string[]): { status: number; out: string; err: string } {
  const bin = new URL('../bin/mellow.js', import.meta.url).pathname
  const { status, stdout, stderr } = spawnSync(
    'setpriv',
    [`--reuid=${user}`, `--regid=${user}`, '--clear-groups', process.execPath, bin, ...args],
    { cwd: folder, encoding: 'utf8', env: { ...process.env, NO_COLOR: '1', HOME: '/tmp' } },
  )
  return { status: status ?? -1, out: stdout, err: stderr }
}

describe('a place that cannot be used', () => {
  test('a folder, and one that is not there', async () => {
    const { folder, run } = await withBook()
    mkdirSync(join(folder, 'dir.mellow'))
    expect(await run('show', 'dir.mellow')).toMatchObject({
      code: 2,
      err: expect.stringContaining('is no workbook: it is a folder'),
    })
    expect(await run('new', 'none/b')).toMatchObject({ code: 2, err: expect.stringContaining('there is no folder none') })
    expect(await run('new', 'b')).toMatchObject({ code: 1, err: expect.stringContaining('exists already') })
  })

  test('a folder that is only read can be looked at, and says that it cannot be written', async () => {
    const { folder } = await withBook()
    chmodSync(join(folder, 'b.mellow'), 0o444)
    chmodSync(folder, 0o555)
    const as = (...args: string[]): ReturnType<typeof runAs> => runAs(65534, folder, args)
    // Only the superuser can become somebody who may not write.
    if (process.getuid?.() === 0) {
      expect(as('show', 'b')).toMatchObject({ status: 0, out: T })
      expect(as('set', 'b', 't', '1', 'kg=3')).toMatchObject({ status: 2, err: expect.stringContaining('cannot be written') })
      expect(as('export', 'b', 't', '-o', 'x.csv')).toMatchObject({
        status: 2,
        err: expect.stringContaining('nothing may be written there'),
      })
    }
    chmodSync(folder, 0o755)
  }, 60_000)

  test('somebody whom the system knows no name for is told of by number', async () => {
    const { folder } = await withBook()
    if (process.getuid?.() !== 0) return
    chmodSync(folder, 0o777)
    for (const file of readdirSync(folder)) chmodSync(join(folder, file), 0o666)
    expect(runAs(54321, folder, ['set', 'b', 't', '1', 'kg=3'])).toMatchObject({ status: 0, err: '' })
    expect(runAs(54321, folder, ['history', 'b'])).toMatchObject({ status: 0, out: expect.stringContaining('user 54321') })
  }, 60_000)

  test('a full disk: the step is refused, or kept, and what is said is so', async () => {
    const { folder, run } = await withBook()
    // No file may grow beyond this: the workbook has room for a little more.
    const blocks = Math.ceil(statSync(join(folder, 'b.mellow')).size / 1024) + 40
    let said = 1
    for (let step = 0; step < 40; step++) {
      const note = 'x'.repeat(3000)
      const bin = new URL('../bin/mellow.js', import.meta.url).pathname

      const { status, stdout, stderr } = spawnSync(
        'bash',
        [
          '-c',
          `ulimit -f ${blocks}; trap '' XFSZ; exec "$0" "$@"`,
          process.execPath,
          bin,
          'describe',
          'b',
          't.kg',
          '--note',
          `${step} ${note}`,
        ],
        { cwd: folder, encoding: 'utf8', env: { ...process.env, NO_COLOR: '1' } },
      )
      const revision = /^revision (\d+)/.exec(stdout)?.[1]
      if (revision !== undefined) said = Number(revision)
      expect(stderr).not.toMatch(/ at .*\(.*:\d+:\d+\)/)
      if (status !== 0) {
        expect([status, stderr]).toEqual([2, expect.stringContaining('cannot be written')])
        break
      }
    }
    const history = (await run('history', 'b', '--limit', '1')).out
    expect(history.trim().split(/\s+/)[0]).toBe(String(said))
    expect((await run('set', 'b', 't', '1', 'kg=7')).code).toBe(0)
  }, 120_000)
})
