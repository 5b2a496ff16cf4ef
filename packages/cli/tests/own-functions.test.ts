import { readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { HoneyBook } from './honey-book.js'

const honey = new HoneyBook()
const { run, all } = honey
const at = (name: string): string => join(honey.folder, name)

test('a function is set, called, shown, explained in its steps, renamed and carried by a bundle', async () => {
  const set = await run('function', 'honey', 'per_hundred(part, whole) = 100 * part per whole', '--note', 'As a percentage')
  expect([set.code, set.out, set.err]).toEqual([0, 'revision 3  function per_hundred(part, whole) = 100 * part per whole\n', ''])
  await all(
    ['define', 'honey', 'takes', 'share = per_hundred(kg, 8)'],
    ['rename', 'honey', 'function:per_hundred', 'to', 'percentage'],
  )
  expect(JSON.parse((await run('list', 'honey', 'functions', '--to', 'json')).out)).toEqual([
    expect.objectContaining({
      kind: 'function',
      address: 'function:percentage',
      type: 'number',
      formula: 'percentage(part: number, whole: number) = 100 * part per whole',
    }),
  ])
  const { out } = await run('why', 'honey', 'takes.share', '1')
  expect(out).toContain('step percentage(kg, 8) = 100 * part per whole with part = kg, whole = 8: 37.5')
  const removed = await run('remove', 'honey', 'function:percentage')
  expect([removed.code, removed.err]).toEqual([1, expect.stringContaining('percentage is called by takes.share')])
  await all(['export', 'honey', '-o', 'honey.zip'], ['import', 'other', 'honey.zip'])
  expect((await run('show', 'other', 'takes', '--columns', 'share', '--limit', '1')).out).toContain('37.5')
  expect((await run('list', 'other', 'functions')).out).toContain('percentage(part: number, whole: number)')
})

test('what is wrong is shown where it stands, and nothing is changed', async () => {
  const unknown = await run('function', 'honey', 'per_take(x) = x / takes.kg')
  expect([unknown.code, unknown.err]).toEqual([
    1,
    `function:per_take: error not-here: takes.kg cannot stand here: a function knows its parameters, other functions and named values; make it a parameter.
  x / takes.kg
      ^^^^^^^^
Nothing was changed.
`,
  ])
  const unfinished = await run('function', 'honey', 'per_take(x = 2')
  expect([unfinished.code, unfinished.err]).toEqual([1, expect.stringContaining('found "=" after a parameter')])
  expect((await run('history', 'honey')).out.trim().split('\n')).toHaveLength(2)
})

test('formulas files and calc define functions among their columns', async () => {
  writeFileSync(
    at('share.txt'),
    '// of each take\nper_hundred(part, whole: number) =\n  100 * part per whole\nshare = per_hundred(kg, 8)\n',
  )
  writeFileSync(at('takes.csv'), 'kg\n3\n5\n')
  const { out } = await run('calc', 'takes.csv', '--formulas', 'share.txt', 'half = halved(kg)', 'halved(x) = x / 2')
  expect(out).toBe('kg,share,half\n3,37.5,1.5\n5,62.5,2.5\n')
  await all(['define', 'honey', 'takes', '--formulas', 'share.txt'])
  expect((await run('show', 'honey', 'takes', '--columns', 'share', '--limit', '1')).out).toContain('37.5')
  expect(readFileSync(at('share.txt'), 'utf8')).toContain('per_hundred')
})
