import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { VERBS } from '../src/verbs/list.js'
import { folderWith, mellow, mellowHere } from './run-mellow.js'

test.each<[string, string[]]>([
  ['alone', []],
  ['--help', ['--help']],
  ['help', ['help']],
])('usage is printed: %s', async (_, args) => {
  const { code, out, err } = await mellowHere(args)
  expect([code, err]).toEqual([0, ''])
  expect(out).toContain('mellow calc inspections.csv')
  for (const { name } of VERBS) expect(out).toContain(`  ${name}`)
})

test.each(VERBS.map(({ name }) => name))('help %s has an example', async (verb) => {
  const [help, option] = await Promise.all([mellowHere(['help', verb]), mellowHere([verb, '--help'])])
  expect([help.code, help.err]).toEqual([0, ''])
  expect(help.out).toMatch(/Examples?:\n {2}.*mellow /)
  expect(option).toEqual(help)
})

test('the version is printed', async () => expect(await mellowHere(['--version'])).toEqual({ code: 0, out: '0.1.0\n', err: '' }))

test('functions lists all, one, a family, or those for a purpose', async () => {
  const [all, one, family, purpose, none] = await Promise.all([
    mellowHere(['functions']),
    mellowHere(['functions', 'round']),
    mellowHere(['functions', 'logic']),
    mellowHere(['functions', 'split', 'a', 'name']),
    mellowHere(['functions', 'xyzzy']),
  ])
  expect(all.out).toContain('days_between(start, end)')
  expect(one.out).toContain('round(1.005, 2)  → 1.01')
  expect((await mellowHere(['functions', 'lag'])).out).toContain('lag(kg)              → blank, 3, 5   over kg 3, 5, 4')
  expect((await mellowHere(['functions', 'sum'])).out).toContain('Clauses: via, below, where, by, order by')
  expect(family.out).toContain('coalesce')
  expect(family.out).not.toContain('sqrt')
  expect((await mellowHere(['functions', 'text'])).out).toMatch(/text\(12\.50\)[\s\S]*upper\(text\)/)
  expect(purpose.out).toContain('split_part')
  expect([none.code, none.out, none.err]).toEqual([1, '', expect.stringContaining('mellow functions')])
})

test('demo writes the tables and walks through them', async () => {
  const folder = folderWith({})
  const { code, out, err } = await mellow(['demo', 'honey'], { folder })
  expect([code, err]).toEqual([0, ''])
  expect(readdirSync(join(folder, 'honey')).sort()).toEqual(
    [
      ...['apiaries', 'batches', 'calendar', 'combs', 'harvests', 'hives', 'inspections', 'weather'].map((name) => `${name}.csv`),
      'inspections-calculated.csv',
      ...['by_apiary', 'forage_by_month', 'colonies_by_month'].map((name) => `${name}.html`),
      ...['colonies', 'comb_growth', 'honey_by_forage'].flatMap((name) => [`${name}.svg`, `${name}.html`]),
      'thistle-and-comb.mellow',
      'thistle-and-comb.mellow-writer',
      'thistle-and-comb.xlsx',
      'harvests.parquet',
    ].sort(),
  )
  for (const text of [
    '1. Define',
    '2. Join',
    '4. A mistake',
    '5. Edit',
    'recalculated: infestation 1 cell, act 1 cell',
    'calculated-cell',
    'worst = max(inspections.infestation)',
    'recalculated  inspections.infestation 1 cell, hives.worst 1 cell, inspections.act 1 cell',
    'undo: inspections.mites of row id:3 set to 1',
    'rule drinkable of batches',
    'batches.in_time: warning rule-broken: The rule in_time (mean_wait <= 7) does not hold for the table as a whole.',
    'rows shown: yield = 1.36957',
    // What formulas and data show that is easily missed.
    'inspections.act: warning calculated-errors: 3 cells of act hold errors: misfit. The first, in row 212, comes from inspections.mites, row 212',
    'batches.wait: warning outside-calendar',
    'harvests.place: warning order-without-effect',
    'cannot be kept in csv as they are: errors are texts there',
    'mellow desk honey/thistle-and-comb',
  ])
    expect(out).toContain(text)
  const again = await mellow(['demo', 'honey'], { folder })
  expect(again.out).toContain('6. The workbook of an earlier demo is kept as it is')
}, 90_000)

test('demo says where it cannot write', async () => {
  const folder = folderWith({ honey: 'a file' })
  expect(await mellow(['demo', 'honey'], { folder })).toMatchObject({
    code: 2,
    out: '',
    err: expect.stringContaining('cannot write the tables to honey'),
  })
})
