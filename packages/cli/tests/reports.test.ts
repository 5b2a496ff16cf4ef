import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import ExcelJS from 'exceljs'
import { describe, expect, test } from 'vitest'
import { HoneyBook } from './honey-book.js'

/** Reports and fits, as somebody at the terminal meets them. */

const honey = new HoneyBook()
const { all, run } = honey

/** A file of the folder. */
const at = (name: string): string => join(honey.folder, name)

const GROUPS = ['--group', 'hive, kg', '--column', 'day', '--tally', 'n = count()', '--tally', 'total = sum(kg)']
const keep = (...more: string[]): Promise<string> =>
  all(['set', 'honey', 'takes', '2', 'kg=4'], ['show', 'honey', 'takes', ...GROUPS, ...more, '--keep', 'by_hive'])

describe('groups that are kept', () => {
  test('are listed, shown, and removed', async () => {
    expect((await run('report', 'honey')).err).toBe(
      'There is no report yet. Keep one: mellow show honey <table> --group … --tally … --keep <name>\n',
    )
    await keep('--where', 'kg < 5')
    expect((await run('report', 'honey')).out).toBe(
      'report,table,where,groups,columns,asks_for\nby_hive,takes,kg < 5,"hive, kg","day, n, total",\n',
    )
    expect(await all(['report', 'honey', 'by_hive', '--to', 'table'])).toBe(
      `takes where kg < 5: 2 of 3 rows
hive / kg  ○ day       ● n  ● total
A                        2        7
  3                      1        3
    row 1  2026-03-01
  4                      1        4
    row 2  2026-03-04
whole                    2        7
`,
    )
    expect(await all(['list', 'honey', 'reports'])).toContain('report,report:by_hive,,,"takes by hive, kg: count(), sum(kg)"')
    expect(await all(['remove', 'honey', 'report:by_hive'])).toContain('report by_hive removed')
    const gone = await run('report', 'honey', 'by_hive')
    expect([gone.code, gone.err]).toEqual([1, 'book: error unknown-report: The workbook has no report called by_hive.\n'])
  })

  test('what they use cannot be removed before them, and the way on is said', async () => {
    await keep()
    const refused = await run('remove', 'honey', 'takes.day')
    expect(refused.code).toBe(1)
    expect(refused.err).toContain('day is used by report by_hive')
    expect(refused.err).toContain('Remove report by_hive first: mellow remove honey report:by_hive')
  })

  test('a mistake is told with the formula, and nothing is kept', async () => {
    const refused = await run('show', 'honey', 'takes', '--group', 'hive', '--tally', 'n = sum(kgs)', '--keep', 'r')
    expect(refused.code).toBe(1)
    expect(refused.out).toBe('')
    expect(refused.err).toMatch(/^report:r\.n: error unknown-name: .*\n/)
    expect((await run('report', 'honey')).err).toContain('no report yet')
    expect((await run('show', 'honey', 'takes', '--keep', 'r')).code).toBe(2)
  })

  test('a preview keeps nothing', async () => {
    const seen = await run('show', 'honey', 'takes', ...GROUPS, '--keep', 'r', '--preview')
    expect(seen.err).toContain('preview  report r of takes kept; nothing is changed')
    expect(seen.out).toContain('level,hive,kg,day,n,total')
    expect((await run('report', 'honey')).err).toContain('no report yet')
  })

  test('parameters are given, and asked for where there is nobody to ask', async () => {
    await all([
      'show',
      'honey',
      'takes',
      '--group',
      'hive',
      '--tally',
      'n = count()',
      '--where',
      'kg > least',
      '--parameter',
      'least number = 3',
      '--keep',
      'r',
    ])
    expect((await run('report', 'honey', 'r', '--with', 'least=1')).out).toContain('0,,2')
    expect((await run('report', 'honey', 'r')).out).toContain('0,,1')
    const stray = await run('report', 'honey', 'r', '--with', 'lest=1')
    expect([stray.code, stray.err]).toEqual([1, expect.stringContaining('no parameter lest. Nearest name: least.')])
    const view = { table: 'takes', where: 'kg > least', parameters: [{ name: 'least', type: 'number' }] }
    writeFileSync(at('ops.ndjson'), JSON.stringify({ op: 'set-report', name: 'r', report: view }))
    await all(['apply', 'honey', 'ops.ndjson'])
    const asked = await run('report', 'honey', 'r')
    expect([asked.code, asked.err]).toEqual([
      1,
      'mellow: the report r asks for least, a number: mellow report honey r --with least=…\n',
    ])
  })
})

test('columns of a view are shown as it is said', async () => {
  const view = ['show', 'honey', 'takes', '--group', 'hive', '--tally', 'n = count()', '--line', 'part = n per whole.n']
  expect(await all([...view, '--display', 'part: percent', '--to', 'table'])).toContain('A        2   66.7%\n')
  expect(await all([...view, '--display', 'part: percent', '--to', 'csv'])).toContain('1,A,2,0.6666666666666666')
  for (const [display, code, words] of [
    ['prt: percent', 2, 'the nearest is part'],
    ['part', 2, "like 'part: percent'"],
    ['part: percnt', 1, 'shows no values of type number'],
  ] as const) {
    const refused = await run(...view, '--display', display)
    expect([refused.code, refused.err]).toEqual([code, expect.stringContaining(words)])
  }
})

describe('folding', () => {
  test('a level is folded by its name or number, and said; data files keep details that are folded', async () => {
    await keep('--details', 'folded')
    const folded = await all(['report', 'honey', 'by_hive', '--fold', 'hive', '--to', 'table'])
    expect(folded).toBe(
      'takes: 3 rows\nhive / kg  ○ day  ● n  ● total\nA                   2      7.0\nB                   1      5.5\nwhole               3     12.5\n6 lines folded\n',
    )
    expect(await all(['report', 'honey', 'by_hive', '--fold', '1', '--to', 'table'])).toBe(folded)
    expect(await all(['report', 'honey', 'by_hive', '--to', 'table'])).toContain('3 lines folded')
    expect((await all(['report', 'honey', 'by_hive', '--to', 'csv'])).split('\n')).toHaveLength(11)
    const wrong = await run('report', 'honey', 'by_hive', '--fold', 'x')
    expect([wrong.code, wrong.err]).toEqual([2, expect.stringContaining('the levels are hive, kg')])
  })

  test('XLSX has outline levels, folded details are hidden, group lines are bold', async () => {
    await keep('--details', 'folded')
    await all(['report', 'honey', 'by_hive', '-o', 'r.xlsx'])
    const book = new ExcelJS.Workbook()
    await book.xlsx.readFile(at('r.xlsx'))
    const [sheet] = book.worksheets
    const rows = Array.from({ length: 10 }, (_, row) => sheet?.getRow(row + 1))
    expect(rows.map((row) => row?.outlineLevel ?? 0)).toEqual([0, 0, 1, 2, 1, 2, 0, 1, 2, 0])
    expect(rows.map((row) => row?.hidden ?? false)).toEqual([false, false, false, true, false, true, false, false, true, false])
    expect(rows.map((row) => row?.getCell(5).font?.bold ?? false).slice(1, 4)).toEqual([true, true, false])
    expect(sheet?.properties.outlineProperties).toMatchObject({ summaryBelow: false })
  })
})

test('markdown: an outline, numbers at the right, and no text that is taken for marks', async () => {
  await all(['set', 'honey', 'takes', '1', 'hive=a|*b*'], ['describe', 'honey', 'takes.kg', '--unit', 'kg'])
  expect((await run('show', 'honey', 'takes', '--group', 'hive', '--tally', 'total = sum(kg)', '--to', 'md')).out).toContain(
    '| hive | total kg |\n| --- | ---: |\n',
  )
  expect((await run('show', 'honey', 'takes', '--columns', 'hive,kg', '--to', 'md')).out).toContain('| a\\|\\*b\\* | 3.0 |')
})

test('HTML needs nothing else, and holds no tag of the data', async () => {
  await keep('--details', 'folded')
  await all(['set', 'honey', 'takes', '1', 'hive=<script>alert(1)</script>'])
  await all(['report', 'honey', 'by_hive', '-o', 'r.html'])
  const page = readFileSync(at('r.html'), 'utf8')
  expect(page).toContain('<h1>by_hive</h1>')
  expect(page).toContain('&lt;script&gt;alert(1)&lt;/script&gt;')
  expect(page).not.toMatch(/<script|https?:|<link|<img|@import|url\(/)
  expect(page).toContain("default-src 'none'")
})

describe('fits', () => {
  const line = ['fit', 'honey', 'takes', 'kg * 2 by day']

  test('the curve, how well it fits, and what was left out', async () => {
    const seen = await run(...line, '--to', 'table')
    expect(seen.out).toMatch(/^kg \* 2 = \S+·day \+ 6, day in days from 2026-03-01\n/)
    expect(seen.out).toContain('1 row left out: kg * 2 or day is an error')
    expect(seen.err).toBe(
      "As a column that follows the data: mellow fit honey takes 'kg * 2 by day' --degree 1 --define fitted\n",
    )
    expect((await run(...line, '--to', 'csv')).out).toMatch(
      /^power,coefficient,standard_error,unit,r_squared,rms,deviation,rows\n1,/,
    )
  })

  test('a curve becomes a column that follows the data, with what it leaves', async () => {
    await all(['set', 'honey', 'takes', '2', 'kg=4'])
    const made = await run('fit', 'honey', 'takes', 'kg by day', '--define', 'curve', '--residuals', 'rest')
    expect(made.err).toContain('tally takes.curve_c1 = polynomial(kg, day, 1, 1)')
    await all(['set', 'honey', 'takes', '3', 'kg=100'])
    const [, first] = (await all(['show', 'honey', 'takes', '--columns', 'kg,curve,rest', '--to', 'csv'])).split('\n')
    const [kg = 0, curve = 0, rest = 0] = (first ?? '').split(',').map(Number)
    expect(curve).not.toBeCloseTo(3, 1)
    expect(rest).toBeCloseTo(kg - curve, 10)
  })

  test.each([
    [['fit', 'honey', 'takes', 'kg day'], 2, 'height by time'],
    [['fit', 'honey', 'takes', 'kg by day', '--coefficients', '1,x'], 2, '--coefficients takes a number'],
    [['fit', 'honey', 'takes', 'kg by day', '--residuals', 'r'], 2, 'goes with --define'],
    [['fit', 'honey', 'takes', 'kg by day', '--degree', '6'], 1, 'takes at least 7 different x'],
    [['fit', 'honey', 'takes', 'kg by dya'], 1, 'Nearest name: day'],
  ])('%j is refused', async (words, code, message) => {
    const refused = await run(...words)
    expect([refused.code, refused.err]).toEqual([code, expect.stringContaining(message)])
  })
})

describe('rows as they are looked at', () => {
  test('tallies stand under their columns, with the unit of what they sum; under a condition also those of the rows shown', async () => {
    await all(['tally', 'honey', 'hives', 'frames_all = sum(frames)'], ['tally', 'honey', 'hives', 'some = count()'])
    expect(await all(['show', 'honey', 'hives', '--columns', 'tag,frames', '--where', "tag = 'A'", '--to', 'table'])).toMatch(
      / {2}all +\d+\n *shown +\d+\n +frames_all\nall rows: some = 3\nrows shown: some = 1\n$/,
    )
  })

  test('rows have their numbers in files where that is asked for', async () => {
    expect(
      await all(['show', 'honey', 'takes', '--columns', 'kg', '--order', 'kg desc', '--row-numbers', '--to', 'csv']),
    ).toMatch(/^row,kg\n3,5.5\n1,3\n/)
    await all(['column', 'honey', 'takes.row:text'])
    expect((await run('show', 'honey', 'takes', '--row-numbers', '--to', 'csv')).code).toBe(1)
    expect((await all(['show', 'honey', 'takes', '--to', 'table'])).split('\n')[0]).toMatch(/^○ hive/)
  })

  test('an outline is drawn and folded; rows that go round are a finding', async () => {
    await all(
      ['column', 'honey', 'hives.above:text'],
      ['describe', 'honey', 'hives', '--label', 'tag', '--parent', 'above'],
      ['set', 'honey', 'hives', '3', 'above=A'],
    )
    const order = async (...more: string[]): Promise<string[]> =>
      (await all(['show', 'honey', 'hives', '--columns', 'tag', '--to', 'table', ...more]))
        .split('\n')
        .slice(1, -1)
        .map((text) => text.trimEnd())
    expect(await order()).toEqual(['  1  A', '  3    C', '  2  B'])
    expect(await order('--fold', '0')).toEqual(['  1  A', '  2  B'])
    await all(['set', 'honey', 'hives', '1', 'above=C'])
    expect((await run('check', 'honey')).out).toContain('hives.above: warning parent-loop: 2 rows are below themselves')
    expect((await run('show', 'honey', 'takes', '--fold', '0')).code).toBe(2)
  })
})

test('a bundle carries reports, and how tallies are shown', async () => {
  await keep()
  await all(
    ['tally', 'honey', 'takes', 'total = sum(kg)'],
    ['describe', 'honey', 'tally:takes.total', '--unit', 'kg', '--decimals', '2'],
  )
  await all(['export', 'honey', '-o', 'honey.zip'], ['import', 'again', 'honey.zip'])
  expect(await all(['report', 'again', 'by_hive'])).toBe(await all(['report', 'honey', 'by_hive']))
  expect(await all(['describe', 'again', 'tally:takes.total'])).toContain('unit      kg\n  decimals  2')
})

describe('mistakes of groups', () => {
  const gap = ['--group', 'hive', '--tally', 'gap = sum(kg) - sum(plan)']
  const withPlans = async (): Promise<void> => {
    writeFileSync(at('plans.csv'), 'hive,kg,plan\nA,3,2\nA,4,\nB,1,1\n')
    await all(['import', 'honey', 'plans.csv'])
  }

  test('are told where they are shown, with the formula', async () => {
    await withPlans()
    const said = `gap: hint unequal-rows: sum(kg) has 1 row that sum(plan) has not.
  sum(kg) - sum(plan)
  ^^^^^^^
  fix: Write sum(kg where plan is not blank)
`
    expect((await run('show', 'honey', 'plans', ...gap)).err).toBe(said)
    expect((await run('calc', 'plans.csv', ...gap)).err).toBe(said.replace('gap:', 'plans.gap:'))
    expect((await run('calc', 'plans.csv', ...gap, '--strict')).code).toBe(0)
    const json = await run('show', 'honey', 'plans', ...gap, '--findings', 'json')
    expect(JSON.parse(json.err)).toMatchObject([{ code: 'unequal-rows', column: 'gap' }])
  })

  test('of a report are found by check, and fixed in it', async () => {
    await withPlans()
    await run('show', 'honey', 'plans', ...gap, '--keep', 'gaps')
    const checked = (await run('check', 'honey')).out
    expect(checked).toContain('report:gaps.gap: hint unequal-rows')
    const number = /(\d+)\. report:gaps/.exec(checked)?.[1] as string
    const refused = await run('accept', 'honey', number, '--because', 'known')
    expect([refused.code, refused.err]).toEqual([
      1,
      `mellow: finding ${number} is of the report gaps, which says it whenever it is made: it cannot be accepted.\n`,
    ])
    await all(['fix', 'honey', number])
    const mended = await run('report', 'honey', 'gaps')
    expect([mended.err, mended.out]).toEqual(['', 'level,hive,gap\n1,A,1\n1,B,0\n0,,1\n'])
  })
})
