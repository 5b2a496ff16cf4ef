import { expect, test } from 'vitest'
import { folderWith, mellowHere } from './run-mellow.js'

const files = {
  'inspections.csv': 'hive,seen,last_seen,mites,bees_sampled\nLM-01,2026-03-14,2026-03-01,9,300\nLM-02,2026-03-15,,4,0\n',
  'weather.csv': 'day,rain_mm\n2026-03-02,4.5\n2026-03-03,0\n',
}

test('a formula alone is explained without its names being known', async () => {
  expect(await mellowHere(['explain', '100 * mites per bees_sampled'])).toEqual({
    code: 0,
    out: '100 times mites divided by bees_sampled.\n\nBlank where mites is blank, bees_sampled is blank or bees_sampled is zero.\n',
    err: '',
  })
})

test('a definition shows its name, conditions a list', async () => {
  const { out } = await mellowHere(['explain', "act = case when mites > 3 then 'treat' else 'wait' end"])
  expect(out).toContain(
    'act\nThe first of these whose condition is true:\n  1. where mites is more than 3: "treat"\n  otherwise: "wait"\n',
  )
})

test('with tables the names are checked, links and aggregates included', async () => {
  const folder = folderWith(files)
  const formula = 'count(every weather where day > this.last_seen and rain_mm > 1)'
  const { code, out, err } = await mellowHere(
    ['explain', formula, '--with', 'inspections.csv', '--with', 'weather=weather.csv'],
    {
      folder,
    },
  )
  expect([code, err]).toEqual([0, ''])
  expect(out).toContain(
    'The number of all rows of weather where (day is more than this row’s last_seen) and (rain_mm is more than 1).',
  )
  expect(out).toContain('The result is a number.')
})

test.each<[string, string[], number, string]>([
  ['a mistake in the text', ['a +'], 1, 'formula: error expected-value'],
  ['an unknown name', ['mitse + 1', '--with', 'inspections.csv'], 1, 'inspections: error unknown-name'],
  ['a name of another table', ['rain_mm + 1', '--with', 'inspections.csv', '--with', 'weather.csv'], 1, 'Table weather has one'],
  ['a warning under strictness', ['mites = blank', '--with', 'inspections.csv', '--strict'], 1, 'warning compared-with-blank'],
  ['no such file', ['1', '--with', 'nowhere.csv'], 2, 'cannot read nowhere.csv: there is no such file.'],
  ['standard input', ['1', '--with', 't=-'], 2, '--with reads files'],
  ['one table twice', ['1', '--with', 't=weather.csv', '--with', 't=weather.csv'], 2, 'names the table t twice'],
  ['no formula', [], 2, 'mellow help explain'],
])('%s is refused', async (_, args, code, message) => {
  const done = await mellowHere(['explain', ...args], { folder: folderWith(files) })
  expect([done.code, done.out]).toEqual([code, ''])
  expect(done.err).toContain(message)
})

test('findings as JSON stand alone on standard error', async () => {
  const { code, err } = await mellowHere(
    ['explain', 'mites / bees_sampled = blank', '--with', 'inspections.csv', '--findings', 'json'],
    {
      folder: folderWith(files),
    },
  )
  expect(code).toBe(0)
  expect(JSON.parse(err)).toMatchObject([{ code: 'compared-with-blank', severity: 'warning', from: 0 }])
})
