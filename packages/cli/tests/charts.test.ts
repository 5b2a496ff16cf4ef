import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { describe, expect, test } from 'vitest'
import { HoneyBook } from './honey-book.js'

/** Charts, as somebody at the terminal meets them. */

const honey = new HoneyBook()
const { all, run } = honey

/** A file of the folder. */
const at = (name: string): string => join(honey.folder, name)
const text = (name: string): string => readFileSync(at(name), 'utf8')

const TAKES = ['chart', 'honey', 'takes', '--of', 'takes', '--x', 'day', '--line', 'kg']

describe('a chart', () => {
  test('is written as its file says, and what is not to be seen is told', async () => {
    for (const name of ['kg.svg', 'kg.png', 'kg.html', 'kg.json']) {
      const { code, err } = await run(...TAKES, '--title', 'Honey', '-o', name)
      expect([name, code, err]).toEqual([
        name,
        0,
        `Honey: written to ${name}\nkg: 1 error is a gap.\nTo keep it in the workbook, add --keep; then: mellow chart honey takes -o takes.svg\n`,
      ])
    }
    expect(text('kg.svg')).toMatch(/^<svg [\s\S]*kg: 1 error is a gap\.[\s\S]*Honey[\s\S]*<\/svg>\n$/)
    expect(readFileSync(at('kg.png')).subarray(0, 4)).toEqual(Buffer.from([0x89, 0x50, 0x4e, 0x47]))
    expect(text('kg.html')).toContain('<!doctype html>')
    expect(JSON.parse(text('kg.json')).data.values).toEqual([
      { x: '2026-03-01', kg: 3 },
      { x: '2026-03-04', kg: null },
      { x: '2026-03-09', kg: 5.5 },
    ])
  })

  test('stands alone on standard output, as svg unless said otherwise', async () => {
    const drawn = await run(...TAKES)
    expect([drawn.code, drawn.out.startsWith('<svg '), drawn.out.includes('mellow chart')]).toEqual([0, true, false])
    expect(JSON.parse((await run(...TAKES, '--to', 'json', '--dark')).out).config.background).toBe('#171a17')
  })

  test('is kept, listed, drawn again, and removed', async () => {
    expect((await run('chart', 'honey')).err).toBe(
      'There is no chart yet. Keep one: mellow chart honey <name> --of <table or report> --x … --line … --keep\n',
    )
    const kept = await run(...TAKES, '--right', 'tenth = kg / 10', '--where', 'hive = "A"', '--keep', '-o', 'kept.svg')
    expect(kept.err).toMatch(/^revision 3 {2}chart takes of takes kept\n.*written to kept.svg\n/)
    expect((await run('chart', 'honey')).out).toBe(
      'chart,of,where,x,series,fit\ntakes,takes,"hive = ""A""",day,"line kg, line tenth (right)",\n',
    )
    await all(['rename', 'honey', 'takes.kg', 'to', 'honey kg'])
    await all(['chart', 'honey', 'takes', '-o', 'again.svg'])
    expect(text('again.svg')).toContain('honey kg')
    expect(await all(['list', 'honey', 'charts'])).toContain('chart,chart:takes,,,"takes: `honey kg`, `honey kg` / 10 by day"')
    expect((await run('remove', 'honey', 'takes.day')).err).toContain('Remove chart takes first: mellow remove honey chart:takes')
    expect(await all(['remove', 'honey', 'chart:takes'])).toContain('chart takes removed')
    const gone = await run('chart', 'honey', 'takes', '-o', 'gone.svg')
    expect([gone.code, gone.err, existsSync(at('gone.svg'))]).toEqual([
      1,
      'book: error unknown-chart: The workbook has no chart called takes.\n',
      false,
    ])
  })

  test('draws the groups of a report, and asks for its parameters', async () => {
    await all(['set', 'honey', 'takes', '2', 'kg=4'])
    writeFileSync(
      at('ops.ndjson'),
      `${JSON.stringify([
        {
          op: 'set-report',
          name: 'by_hive',
          report: {
            table: 'takes',
            where: 'kg >= least',
            parameters: [{ name: 'least', type: 'number' }],
            levels: [{ key: 'hive' }],
            tallies: [{ name: 'total', formula: 'sum(kg)' }],
          },
        },
      ])}\n`,
    )
    await all(['apply', 'honey', 'ops.ndjson'])
    const bars = ['chart', 'honey', 'hives', '--of', 'by_hive', '--bar', 'total', '--to', 'json']
    const asked = await run(...bars)
    expect([asked.code, asked.err]).toEqual([
      1,
      'mellow: the report by_hive asks for least, a number: mellow chart honey hives --with least=…\n',
    ])
    expect(JSON.parse((await run(...bars, '--with', 'least=4')).out).data.values).toEqual([
      { x: 'A', total: 4 },
      { x: 'B', total: 5.5 },
    ])
  })

  test('has a curve through it, with what it leaves', async () => {
    await all(['set', 'honey', 'takes', '2', 'kg=4'])
    await all([...TAKES, '--fit', 'kg: 1', '--residuals', '-o', 'fit.svg'])
    expect(text('fit.svg')).toMatch(/curve: kg = 0\.3\d+·day [+−] \d.*day in days from 2026-03-01, R² 0\.99/)
    expect(text('fit.svg')).toContain('residuals')
  })

  test.each<[string, string[], number, RegExp]>([
    [
      'an unknown table',
      ['--of', 'takse', '--x', 'day', '--line', 'kg'],
      2,
      /--of names a table or a report, and there is no "takse"; there are hives, takes\./,
    ],
    ['nothing to draw', ['--of', 'takes', '--x', 'day'], 1, /nothing is drawn: name what, such as a line of honey_kg/],
    [
      'a text',
      ['--of', 'takes', '--x', 'day', '--line', 'hive'],
      1,
      /takes\.hive: error type-mismatch: The series hive expects number/,
    ],
    ['a mistake', ['--of', 'takes', '--x', 'day', '--line', 'kgs'], 1, /error unknown-name: .*kgs/],
    ['no --of', ['--line', 'kg'], 2, /--of says what c is drawn from/],
    ['a title without --of', ['--title', 'Other'], 2, /--of says what c is drawn from/],
    [
      'a width that is none, to be kept',
      ['--of', 'takes', '--x', 'day', '--line', 'kg', '--keep', '--width', 'wide'],
      2,
      /--width/,
    ],
    [
      'an ending that is no drawing',
      ['--of', 'takes', '--x', 'day', '--line', 'kg', '-o', 'c.bmp'],
      2,
      /there are \.svg, \.png, \.html, \.json/,
    ],
    ['no folder', ['--of', 'takes', '--x', 'day', '--line', 'kg', '-o', 'no/c.svg'], 2, /there is no folder no/],
    ['a width that is none', ['--of', 'takes', '--x', 'day', '--line', 'kg', '--width', 'wide'], 2, /--width/],
  ])('%s is told, and nothing is written', async (_, args, code, message) => {
    const refused = await run('chart', 'honey', 'c', ...args)
    expect([refused.code, refused.out]).toEqual([code, ''])
    expect(refused.err).toMatch(message)
    expect((await run('chart', 'honey')).err).toContain('no chart yet')
  })

  test('with --preview nothing is kept or written', async () => {
    const previewed = await run(...TAKES, '--keep', '--preview', '-o', 'kg.svg')
    expect([previewed.code, existsSync(at('kg.svg'))]).toEqual([0, false])
    expect((await run('chart', 'honey')).err).toContain('no chart yet')
  })
})

describe('a calculation', () => {
  test('draws its rows or its groups', async () => {
    const rows = await run(
      'calc',
      'takes.csv',
      'double = 2 * kg',
      '--type',
      'kg=number',
      '--chart',
      'x: day, line: kg, double',
      '-o',
      'rows.json',
    )
    expect([rows.code, JSON.parse(text('rows.json')).data.values.at(-1)]).toEqual([0, { x: '2026-03-09', kg: 5.5, double: 11 }])
    await all([
      'calc',
      'takes.csv',
      '--type',
      'kg=number',
      '--where',
      'kg is not error',
      '--group',
      'hive',
      '--tally',
      'total = sum(kg)',
      '--chart',
      'bar: total, title: By hive',
      '-o',
      'groups.svg',
    ])
    expect(text('groups.svg')).toContain('By hive')
  })

  test.each([
    [['--chart', 'x: day, line: kg'], /--chart writes a drawing: name the file with -o/],
    [['--to', 'svg', '-o', 'a.svg'], /say what is drawn with --chart/],
    [['--chart', 'kg', '-o', 'a.svg'], /expected parts like/],
    [
      ['--chart', 'x: day, line: kg', '--limit', '2', '-o', 'a.svg'],
      /--columns, --order and --limit are of rows that are written/,
    ],
    [['--chart', 'x: day, line: kg', '--order', 'kg', '-o', 'a.svg'], /--columns, --order and --limit/],
  ])('%s is refused', async (args, message) => {
    const refused = await run('calc', 'takes.csv', ...args)
    expect(refused.code).not.toBe(0)
    expect(refused.err).toMatch(message)
    expect(existsSync(at('a.svg'))).toBe(false)
  })
})

test('a profile is drawn as how often values occur', async () => {
  const drawn = await run('profile', 'honey', 'takes.kg', '-o', 'kg.svg')
  expect([drawn.code, drawn.err]).toEqual([0, 'Distribution of kg: written to kg.svg\n0 blanks and 1 error are not drawn.\n'])
  expect(text('kg.svg')).toContain('takes.kg: 2 values in 3 rows')
  expect((await run('profile', 'honey', 'takes.kg', '-o', 'kg.csv')).code).toBe(0)
  expect(text('kg.csv')).toContain('fact,value\ntype,number\n')
})
