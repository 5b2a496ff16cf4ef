import { describe, expect, test } from 'vitest'
import { HoneyBook } from './honey-book.js'

const honey = new HoneyBook()
const { run, all } = honey

describe('suggest', () => {
  test('writes formulas from examples, says what they do, and how to take one', async () => {
    const { code, out, err } = await run('suggest', 'honey', 'takes', 'month', '--from', 'day', '--example', '1: 2026-03')
    expect([code, err]).toEqual([0, ''])
    expect(out).toContain(" 1  month = text(day, 'yyyy-MM')\n")
    expect(out).toContain('day written as "yyyy-MM".')
    expect(out).toContain("Take the first: mellow suggest honey takes month --from day --example '1: 2026-03' --define 1")
  })

  test('as JSON it is a list, the best first', async () => {
    const { code, out } = await run(
      'suggest',
      'honey',
      'takes',
      'left, right',
      '--from',
      'hive, day',
      '--example',
      '1: A, 2026',
      '--to',
      'json',
    )
    expect(code).toBe(0)
    const [first] = JSON.parse(out) as Record<string, unknown>[]
    expect(first).toMatchObject({
      formulas: { left: 'hive', right: 'year(day)' },
      explanation: expect.stringContaining('left: '),
      blanks: 0,
      errors: 0,
    })
    expect(Object.keys((first as { formulas: object }).formulas)).toEqual(['left', 'right'])
  })

  test('what differs is asked about, with the example to type next', async () => {
    await all(
      ['column', 'honey', 'hives.full:text'],
      ['set', 'honey', 'hives', '1', 'full=Ada van Ash'],
      ['set', 'honey', 'hives', '2', 'full=Bea Moor'],
    )
    const { out } = await run('suggest', 'honey', 'hives', 'family', '--from', 'full', '--example', '2: Moor')
    expect(out).toContain("They differ in row 1: 1 gives van, 2 gives Ash. Say which is right: --example '1: van'")
    const again = await run(
      'suggest',
      'honey',
      'hives',
      'family',
      '--from',
      'full',
      '--example',
      '2: Moor',
      '--example',
      '1: Ash',
    )
    expect(again.out).toContain(' 1  family = word(full, -1)\n')
  })

  test('--define takes one, in one step; --preview only says what would follow', async () => {
    const asked = [
      'suggest',
      'honey',
      'takes',
      'grams',
      '--from',
      'kg',
      '--example',
      '1: 3000',
      '--example',
      '3: 5500',
      '--define',
      '1',
    ]
    const preview = await run(...asked, '--preview')
    expect([preview.code, preview.out]).toEqual([0, expect.stringContaining('preview  takes.grams = 1000 * kg')])
    expect(await all(['list', 'honey', 'column'])).not.toContain('grams')
    await all(asked)
    expect(await all(['show', 'honey', 'takes', '--columns', 'grams'])).toBe('grams\n3000\n!misfit\n5500\n')
    expect(await all(['undo', 'honey'], ['list', 'honey', 'column'])).not.toContain('grams')
  })

  test('values with commas stand in quotes, nothing is a blank, and rows have labels', async () => {
    const { out } = await run('suggest', 'honey', 'hives', 'a, b', '--from', 'tag, yard', '--example', 'label=A: "A, north", A')
    expect(out).toContain("a = tag & ', ' & yard\n")
    expect(out).toContain('b = tag\n')
  })

  test.each<[string, string[], number, string]>([
    [
      'nothing fits',
      ['takes', 'x', '--from', 'hive', '--example', '1: elsewhere'],
      1,
      'no-formula-fits: No formula was found for x',
    ],
    [
      'one row twice',
      ['takes', 'x', '--from', 'kg', '--example', '1: 5', '--example', '1: 6'],
      1,
      'examples-contradict: The examples for x contradict each other',
    ],
    ['a column that there is not', ['takes', 'x', '--from', 'weight', '--example', '1: 5'], 1, 'unknown-column'],
    ['a row that there is not', ['takes', 'x', '--example', '9: 5'], 1, 'there is no row 9'],
    ['no example', ['takes', 'x'], 2, "--example '1: …'"],
    ['an example without a row', ['takes', 'x', '--example', '5'], 2, "such as '3: Ada'"],
    ['too few values', ['takes', 'x, y', '--example', '1: 5'], 2, '1 value for 2 columns'],
    [
      'a number that there is not',
      ['takes', 'x', '--from', 'kg', '--example', '1: 3000', '--define', '15'],
      2,
      'so there is no 15',
    ],
  ])('%s: a clear message, and nothing is changed', async (_, args, code, message) => {
    const before = await all(['history', 'honey'])
    const done = await run('suggest', 'honey', ...args)
    expect([done.code, done.out]).toEqual([code, ''])
    expect(done.err).toContain(message)
    expect(await all(['history', 'honey'])).toBe(before)
  })
})

describe('functions with a workbook', () => {
  test('finds formulas by what they are for, made of the columns at hand, with what they give and how to take one', async () => {
    const { code, out, err } = await run('functions', 'total', 'by', 'hive', '--book', 'honey', '--table', 'takes')
    expect([code, err]).toEqual([0, ''])
    expect(out).toContain(
      '  total_kg = sum(kg by hive)\n    The total of kg over the rows of this table with the same hive as this row.\n',
    )
    expect(out).toContain('row 3: 5.5')
    expect(out).toContain("Take it: mellow define honey takes 'total_kg = sum(kg by hive)'\n")
  })

  test.each<[string, string[], number, string]>([
    ['no formula answers', ['bake', 'a', 'cake', '--book', 'honey', '--table', 'takes'], 1, "mellow functions 'bake a cake'"],
    ['no words', ['--book', 'honey', '--table', 'takes'], 2, 'say what the formulas are for'],
    ['several tables', ['rank', '--book', 'honey'], 2, 'say which table: hives, takes'],
    ['no such table', ['rank', '--book', 'honey', '--table', 'bees'], 1, 'bees'],
  ])('%s: a clear message', async (_, args, code, message) => {
    const done = await run('functions', ...args)
    expect([done.code, done.out]).toEqual([code, ''])
    expect(done.err).toContain(message)
  })
})
