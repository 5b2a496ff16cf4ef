import { expect, test } from 'vitest'
import { HoneyBook } from './honey-book.js'

/** Rows in groups, as somebody at the terminal meets them. */

const { all, run } = new HoneyBook()

const asTable = (...args: string[]): Promise<string> => all(['show', 'honey', 'takes', ...args, '--to', 'table'])

test('groups are set in, errors and blanks have groups of their own, the whole stands at the end', async () => {
  await all(['set', 'honey', 'takes', '3', 'hive='])
  expect(
    await asTable('--group', 'hive, kg', '--column', 'day = day', '--tally', 'n = count()', '--tally', 'last = max(day)'),
  ).toBe(
    `takes: 3 rows
hive / kg  ○ day       ● n  ● last
A                        2  2026-03-04
  3                      1  2026-03-01
    row 1  2026-03-01
  !misfit                1  2026-03-04
    row 2  2026-03-04
(blank)                  1  2026-03-09
  5.5                    1  2026-03-09
    row 3  2026-03-09
whole                    3  2026-03-09
`,
  )
})

test('the view says which rows it is of, and how many lines are left out', async () => {
  await all(['rows', 'honey', 'takes', 'add', '60', 'hive=A', 'kg=1'], ['set', 'honey', 'takes', '2', 'kg=4'])
  const shown = (await asTable('--group', 'hive', '--column', 'kg = kg', '--where', 'kg < 5')).split('\n')
  expect(shown.slice(0, 3)).toEqual(['takes where kg < 5: 62 of 63 rows', 'hive      ○ kg', 'A'])
  expect(shown.slice(-3)).toEqual(['whole', '… 24 more lines', ''])
  expect(shown).toHaveLength(44)
})

test('on demand it is said that cells are stale', async () => {
  await all(['define', 'honey', 'takes', 'jars = kg * 2'], ['mode', 'honey', 'on-demand'], ['set', 'honey', 'takes', '1', 'kg=7'])
  const seen = await run('show', 'honey', 'takes', '--group', 'hive', '--tally', 'n = count(jars)')
  expect(seen.err).toContain('1 cell is stale: mellow recalculate honey')
})

test('groups left out stand together', async () => {
  const lines = ['--tally', 'total = sum(if_error(kg, 0))', '--line', 'part = total per whole.total']
  expect(await asTable('--group', 'hive', ...lines, '--top', '1 by total')).toBe(
    `takes: 3 rows
hive               ● total    ● part
B                      5.5  0.647059
(others: 1 group)      3.0  0.352941
whole                  8.5  1.000000
`,
  )
})

test('a key goes across, and a parameter is told in the first line', async () => {
  const lines = ['--tally', 'total = sum(if_error(kg, 0))', '--parameter', 'least date = 2026-03-04', '--where', 'day >= least']
  expect(await asTable('--group', 'hive', '--across', 'day', ...lines)).toBe(
    `takes where day >= least, least 2026-03-04: 2 of 3 rows
hive   ● 2026-03-04 total  ● 2026-03-09 total  ● total
A                       0                          0.0
B                                         5.5      5.5
whole                   0                 5.5      5.5
`,
  )
})

test.each<[string, string[], number, RegExp]>([
  ['columns beside groups', ['--group', 'hive', '--columns', 'hive'], 2, /--columns does not go with groups/],
  [
    'a key that is not there',
    ['--group', 'hvie', '--tally', 'n = count()'],
    1,
    /takes.hvie: error unknown-name: .*Nearest name: hive/,
  ],
  ['a tally over single rows', ['--group', 'hive', '--tally', 'x = kg'], 1, /takes.x: error/],
  ['a line that reads itself', ['--group', 'hive', '--line', 'x = x + 1'], 1, /cycle: x would depend on itself/],
  ['an option of groups without groups', ['--top', '1 by kg'], 2, /--top is for groups/],
  ['two keys across', ['--across', 'hive, day', '--tally', 'n = count()'], 2, /--across: expected one key/],
  [
    'a parameter without a type',
    ['--group', 'hive', '--tally', 'n = count()', '--parameter', 'x = 1'],
    2,
    /--parameter: expected a name, a type/,
  ],
  ['a definition without a formula', ['--group', 'hive', '--tally', 'total'], 1, /Expected a definition/],
])('%s is refused', async (_, args, code, said) => {
  const seen = await run('show', 'honey', 'takes', ...args)
  expect(seen.err).toMatch(said)
  expect([seen.code, seen.out]).toEqual([code, ''])
})
