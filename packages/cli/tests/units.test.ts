import { expect, test } from 'vitest'
import { HoneyBook } from './honey-book.js'

const honey = new HoneyBook()
const { run, all } = honey

test('what a column is in is shown with all that comes from it', async () => {
  await all(
    ['describe', 'honey', 'takes.kg', '--unit', 'kg'],
    ['define', 'honey', 'takes', 'twice = 2 * kg'],
    ['define', 'honey', 'takes', 'a_day = derivative(twice, day)'],
    ['tally', 'honey', 'takes', 'total = sum(kg)'],
  )
  const { out } = await run('list', 'honey', '--to', 'json')
  const units = (JSON.parse(out) as { address: string; unit: string | null }[]).flatMap(({ address, unit }) =>
    unit === null ? [] : [[address, unit]],
  )
  expect(units).toEqual([
    ['takes.kg', 'kg'],
    ['takes.twice', 'kg'],
    ['takes.a_day', 'kg/d'],
    ['tally:takes.total', 'kg'],
  ])
  expect((await run('describe', 'honey', 'takes.a_day')).out).toContain('unit      kg/d, which its formula gives')
  const shown = await run('show', 'honey', 'takes', '--to', 'md')
  expect(shown.out).toContain('a\\_day kg/d')
})

test('another unit says which columns are in another one now, also before it is set', async () => {
  await all(['describe', 'honey', 'takes.kg', '--unit', 'kg'], ['define', 'honey', 'takes', 'twice = 2 * kg'])
  const tried = await run('describe', 'honey', 'takes.kg', '--unit', 'g', '--preview')
  expect(tried.out).toContain('other unit    takes.kg kg → g, takes.twice kg → g\n')
  const done = await run('describe', 'honey', 'takes.kg', '--unit', 'g')
  expect([done.code, done.out]).toEqual([0, expect.stringContaining('other unit    takes.kg kg → g, takes.twice kg → g\n')])
  const { out } = await run('undo', 'honey')
  expect(out).toContain('other unit    takes.kg g → kg, takes.twice g → kg\n')
})

test('what does not go together is a finding whose fix converts', async () => {
  await all(
    ['describe', 'honey', 'takes.kg', '--unit', 'kg'],
    ['column', 'honey', 'takes.jar_g:number'],
    ['describe', 'honey', 'takes.jar_g', '--unit', 'g'],
    ['set', 'honey', 'takes', '1', 'jar_g=500'],
  )
  const { code, err } = await run('define', 'honey', 'takes', 'left = kg - jar_g')
  expect(code).toBe(0)
  expect(err).toContain('takes.left: warning unlike-units: kg is in kg, jar_g in g: one of them has to be converted.')
  const checked = await run('check', 'honey')
  const [, number] = /mellow fix honey (\d+): Convert: convert\(jar_g, 'kg'\)/.exec(checked.out) ?? []
  expect(number).toBeDefined()
  await all(['fix', 'honey', number as string])
  expect(await honey.rows('takes')).toContain('A,3,2026-03-01,500,2.5')
})

test('strictness refuses what does not go together, and nothing is changed', async () => {
  await all(['describe', 'honey', 'takes.kg', '--unit', 'kg'], ['describe', 'honey', 'hives.frames', '--unit', 'frames'])
  const { code, err } = await run('define', 'honey', 'takes', 'odd = kg + max(every hives.frames)', '--strict')
  expect(code).toBe(1)
  expect(err).toContain('kg is in kg, max(every hives.frames) in frames: quantities of these kinds do not go together.')
  expect((await run('list', 'honey')).out).not.toContain('takes.odd')
})
