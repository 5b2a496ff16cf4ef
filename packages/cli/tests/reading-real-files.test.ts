import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { folderWith, mellowHere, type Run } from './run-mellow.js'

/** Files as people have them: other marks, other dates, doubled headers, a bad line; each is told of, and each has a way on. */

const read = (content: string, ...args: readonly string[]): Promise<Run> =>
  mellowHere(['calc', 'f.csv', '--to', 'csv', ...args], { folder: folderWith({ 'f.csv': content }) })

describe('a column that could be read otherwise', () => {
  test.each<[string, string, string]>([
    [
      'a decimal comma',
      'kg\n"1,5"\n"2,25"\n"3,5"\n"4,5"\n5\n6\nn/a\n',
      '6 of 7 values of kg are numbers with a decimal comma: --decimal ,; 1 would not fit.',
    ],
    [
      'what the whole file would lose by it',
      'kg,lat\n"1,5",1.5\n"2,25",2.5\n',
      '--type kg=number:0,0 (--decimal , for the whole file would not read 2 numbers of lat)',
    ],
    ['dates', 'd\n12/03/2026\n28/03/2026\n', '2 of 2 values of d are dates written dd/MM/yyyy: --type d=date:dd/MM/yyyy.'],
    [
      'dates that may be either',
      'd\n02/03/2026\n04/05/2026\n',
      'They may as well be dates written MM/dd/yyyy (date:MM/dd/yyyy).',
    ],
    ['thousands', 'n\n"1,234.5"\n"12,345.6"\n', "are numbers with commas between thousands: --type 'n=number:#,##0.0'."],
    ['points between thousands', 'n\n"1.234,5"\n"12.345.678,9"\n', 'points between thousands and a decimal comma'],
    ['spaces', 'n\n1 234\n12 345\n', 'are numbers with spaces between thousands'],
  ])('is proposed, with %s', async (_, content, told) => {
    const { code, err } = await read(content)
    expect([code, err.includes(told) ? told : err]).toEqual([0, told])
  })

  test.each<[string, string[], string]>([
    ['kg\n"1,5"\n2\n', ['--decimal', ','], 'kg,x\n1.5,3\n2,4\n'],
    ['kg,lat\n"1,5",1.5\n', ['--type', 'kg=number:0,0'], 'kg,lat,x\n1.5,1.5,3\n'],
    ['kg\n"1.234,5"\n', ['--type', 'kg=number:#.##0,0'], 'kg,x\n1234.5,2469\n'],
    ['kg\n"1,234.5"\n', ['--thousands', ','], 'kg,x\n1234.5,2469\n'],
    ["kg\n1'234.5\n", ['--thousands', "'"], 'kg,x\n1234.5,2469\n'],
  ])('%j is read with %j', async (content, options, out) => {
    const run = await read(content, 'x = kg * 2', ...options)
    expect(run.out).toBe(out)
  })

  test.each(['codes with signs\nA-1\nB-2\n', 'free text\nsome, words\nothers\n', 't\n007\n008\n'])(
    'is none of %j',
    async (content) => {
      expect((await read(content)).err).not.toContain('readable-otherwise')
    },
  )
})

describe('one bad line', () => {
  test.each<[string, string, string[], number, string, string]>([
    ['headers equal', 'a,a\n1,2\n', [], 2, '', '--duplicates rename'],
    ['headers equal, renamed', 'a,A,a_2\n1,2,3\n', ['--duplicates', 'rename'], 0, 'a,A_2,a_2_2\n1,2,3\n', 'is called A_2'],
    ['a long row', 'a,b\n1,2\n3,4,5\n', [], 2, '', 'line 3: expected 2 cells as in the header, found 3. To keep'],
    [
      'a long row, kept',
      'a,b\n1,2\n3,4,5\n',
      ['--long-rows', 'keep'],
      0,
      'a,b,column_3\n1,2,\n3,4,5\n',
      '1 row is longer than the header, the first in line 3',
    ],
    ['a long row, cut', 'a,b\n1,2\n3,4,5\n', ['--long-rows', 'cut'], 0, 'a,b\n1,2\n3,4\n', 'left out'],
    ['a row with blanks beyond the header', 'a,b\n1,2,,\n', [], 0, 'a,b\n1,2\n', ''],
    ['a quote never closed', 'a,b\n"x,2\n', [], 2, '', '--quotes literal'],
    ['a quote that is a sign', 'a,b\n"x,2\n', ['--quotes', 'literal'], 0, 'a,b\n"""x",2\n', ''],
  ])('%s', async (_, content, options, code, out, told) => {
    const run = await read(content, ...options)
    expect([run.code, run.out]).toEqual([code, out])
    expect(run.err).toContain(told)
  })
})

describe('a workbook is read again', () => {
  const started = async (): Promise<{ folder: string; run: (...args: string[]) => Promise<Run> }> => {
    const folder = folderWith({ 't.csv': 'tag,kg,seen\nA,"1,5",12/03/2026\nB,"2,5",13/03/2026\nC,"3,5",28/03/2026\n' })
    const run = (...args: string[]): Promise<Run> => mellowHere(args, { folder })
    expect((await run('import', 'b', 't.csv', '--decimal', ',', '--type', 'seen=date:dd/MM/yyyy', '--key', 'tag')).code).toBe(0)
    return { folder, run }
  }

  test('cells are typed as they stand in its file, and what does not fit is said at once', async () => {
    const { run } = await started()
    expect((await run('set', 'b', 't', '1', 'kg=4,75', 'seen=02/01/2026')).err).toBe('')
    expect((await run('show', 'b', '--limit', '1')).out).toBe('tag,kg,seen\nA,4.75,2026-01-02\n')
    const wrong = await run('set', 'b', 't', '2', 'kg=much')
    expect([wrong.code, wrong.err]).toEqual([0, expect.stringContaining('"much" is no number of t.kg; it is kept as a text')])
    const strict = await run('set', 'b', 't', '3', 'kg=more', '--strict')
    expect([strict.code, strict.err]).toEqual([1, expect.stringContaining('--strict refuses on warnings')])
    expect((await run('rows', 'b', 't', 'add', 'tag=D', 'kg=9,5')).code).toBe(0)
    expect((await run('show', 'b', '--columns', 'kg')).out).toBe('kg\n4.75\nmuch\n3.5\n9.5\n')
    expect((await run('describe', 'b', 't')).out).toContain('read with --decimal , --type seen=date:dd/MM/yyyy')
  }, 60_000)

  test('rows that would go with what was typed are named; rows of one key and another order too', async () => {
    const { folder, run } = await started()
    await run('column', 'b', 't.note:text')
    await run('set', 'b', 't', 'label=B'.replace('label=B', '2'), 'note=mine')
    writeFileSync(join(folder, 't.csv'), 'tag,kg,seen\nC,"3,5",28/03/2026\nA,"1,5",12/03/2026\nC,4,29/03/2026\n')
    const refused = await run('reread', 'b', 't', '--preview')
    expect(refused.code).toBe(1)
    for (const told of [
      't: 1 row that the file has no more: row 2, B',
      't: 1 row of the file with a tag that a row before has: row 3, C',
      't: rows stand in another order in the file',
      'typed-values-lost: 1 row of t would go, since the source has no more of them, with values typed in note: row 2.',
      'To keep those rows: mellow reread b t --gone keep',
    ])
      expect(refused.err).toContain(told)
    expect((await run('reread', 'b', 't', '--gone', 'drop', '--repeated', 'drop', '--order', 'file')).code).toBe(0)
    expect((await run('show', 'b', '--columns', 'tag,kg')).out).toBe('tag,kg\nC,3.5\nA,1.5\n')
  }, 60_000)

  test('with another mark or type, which is told', async () => {
    const folder = folderWith({ 't.csv': 'tag,kg\nA,"1,5"\nB,"2,5"\n' })
    const run = (...args: string[]): Promise<Run> => mellowHere(args, { folder })
    await run('import', 'b', 't.csv', '--key', 'tag')
    const again = await run('reread', 'b', 't', '--decimal', ',')
    expect(again.err).toContain('t: kg is number now, and was text')
    expect((await run('show', 'b')).out).toBe('tag,kg\nA,1.5\nB,2.5\n')
    expect((await run('reread', 'b', 't', '--type', 'kg=text')).err).toContain('kg is text now')
    expect((await run('show', 'b')).out).toBe('tag,kg\nA,"1,5"\nB,"2,5"\n')
  }, 60_000)
})

describe('fill', () => {
  test('is checked first, and is its formula in history, journal and replay', async () => {
    const folder = folderWith({ 't.csv': 'n,note\n4,x\n9,y\n1,z\n' })
    const run = (...args: string[]): Promise<Run> => mellowHere(args, { folder })
    await run('import', 'b', 't.csv')
    const failing = await run('fill', 'b', 't', 'root = sqrt(n - 2)')
    expect([failing.code, failing.err]).toEqual([
      1,
      expect.stringContaining('out-of-range. The first, in row 3, is sqrt(n - 2) where n is 1.'),
    ])
    const unfit = await run('fill', 'b', 't', 'note = n * 2', '--replace')
    expect([unfit.code, unfit.err]).toEqual([1, expect.stringContaining('fix: Make note a number column')])
    expect((await run('fill', 'b', 't', 'n = n * 10')).code).toBe(0)
    expect((await run('history', 'b')).out).toContain('t.n filled once with n * 10')
    const journal = (await run('journal', 'b', '-o', 'j.ndjson')).code
    expect([journal, readFileSync(join(folder, 'j.ndjson'), 'utf8').trim().split('\n').at(-1)]).toEqual([
      0,
      expect.stringContaining('"operations":[{"op":"fill-column","table":"t","column":"n","formula":"n * 10"}]'),
    ])
    await run('replay', 'j.ndjson', 'c')
    for (const book of ['b', 'c']) expect((await run('show', book, '--columns', 'n')).out).toBe('n\n40\n90\n10\n')
    await run('undo', 'b')
    expect((await run('show', 'b', '--columns', 'n')).out).toBe('n\n4\n9\n1\n')
  }, 60_000)
})
