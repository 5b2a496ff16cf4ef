import { expect, test } from 'vitest'
import { HoneyBook } from './honey-book.js'

/** Columns that are hidden from groups of readers, as their owner says it at the terminal. */

const { all, run } = new HoneyBook()

test('a column is hidden from groups, listed, and shown again', async () => {
  await all(['define', 'honey', 'takes', 'twice = kg * 2'])
  expect((await run('groups', 'honey', '--to', 'csv')).err).toContain(
    'To hide one: mellow hide honey <table.column> --from <group>',
  )
  const hidden = await run('hide', 'honey', 'takes.kg', '--from', 'buyers')
  expect(hidden.out).toBe('revision 4  takes.kg hidden from buyers\n')
  expect(hidden.err).toContain('reveals-hidden: twice gives kg away to buyers, from whom that is hidden')
  const more = await run('hide', 'honey', 'takes.kg', '--from', 'keepers', '--from', 'Buyers')
  expect(more.err).toContain('keepers is a new group; the groups so far are buyers.')
  await all(['hide', 'honey', 'takes.twice', '--from', 'buyers'])
  expect((await run('groups', 'honey', '--to', 'csv')).out).toBe(
    'group,hidden\nkeepers,takes.kg\nBuyers,"takes.kg, takes.twice"\n',
  )
  expect(await all(['list', 'honey', 'column'])).toContain('"hidden from keepers, Buyers"')
  expect(await all(['describe', 'honey', 'takes.kg'])).toContain('hidden from keepers, Buyers')
  expect(await all(['unhide', 'honey', 'takes.kg', '--from', 'buyers'])).toContain('takes.kg hidden from keepers')
  expect(await all(['unhide', 'honey', 'takes.kg'])).toContain('takes.kg hidden from no group any more')
  expect((await run('groups', 'honey', '--to', 'csv')).out).toBe('group,hidden\nbuyers,takes.twice\n')
  await all(['undo', 'honey'])
  expect((await run('groups', 'honey', '--to', 'csv')).out).toContain('keepers')
}, 60_000)

test('a key cannot be hidden, and a column is fixed', async () => {
  await all(['link', 'honey', 'takes.hive -> hives.tag'])
  const key = await run('hide', 'honey', 'takes.hive', '--from', 'buyers')
  expect([key.code, key.err]).toEqual([
    1,
    expect.stringContaining('hive cannot be hidden from readers: it is a key of the link hive.'),
  ])
  expect(await all(['describe', 'honey', 'takes.kg', '--fixed', 'yes'])).toContain('takes.kg fixed')
  expect(await all(['describe', 'honey', 'takes.kg'])).toContain('fixed     yes')
  expect(await all(['describe', 'honey', 'takes.kg', '--fixed', 'no'])).toContain('takes.kg no longer fixed')
  expect((await run('describe', 'honey', 'takes.kg', '--fixed', 'maybe')).err).toContain('--fixed is yes or no, not "maybe".')
}, 60_000)
