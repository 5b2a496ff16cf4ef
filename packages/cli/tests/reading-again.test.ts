import { writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { expect, test } from 'vitest'
import { HoneyBook } from './honey-book.js'

/** Files read again into a table that was read from them: rows by their key, columns one by one. */

const book = new HoneyBook()
const { all, run, rows } = book

test('a source is read again: rows by key, columns decided one by one', async () => {
  await all(['define', 'honey', 'hives', 'double = frames * 2', 'where_it_is = yard'])
  writeFileSync(join(book.folder, 'hives.csv'), 'tag,frames,place\nC,7,west\nA,10,north\n')
  expect(await run('reread', 'honey', 'hives', 'hives.csv')).toMatchObject({
    code: 1,
    err: expect.stringMatching(/^hives: yard looks like place now \(--map yard=place\)\n[\s\S]*--keep yard/),
  })
  const change = await all(['reread', 'honey', 'hives', 'hives.csv', '--map', 'yard=place'])
  expect(change).toContain('rows gone     hives 1 row')
  expect(await rows('hives')).toBe('tag,place,frames,double,where_it_is\nA,north,10,20,north\nC,west,7,14,west\n')
}, 40_000)

test('what was said when a file was read holds when it is read again, under whatever name', async () => {
  writeFileSync(join(book.folder, 'scales.csv'), 'tag;kg;seen\nA;1,5;01.02.2026\nB;2;-\n')
  const reading = ['--delimiter', ';', '--decimal', ',', '--blank', '-', '--type', 'seen=date:dd.MM.yyyy', '--key', 'tag']
  await all(['import', 'honey', 'scales.csv', ...reading], ['define', 'honey', 'scales', 'later = seen + 1'])
  writeFileSync(join(book.folder, 'march.csv'), 'tag;kg;day;note\nA;2,5;03.02.2026;x\nC;1;-;y\n')
  const gone = await run('reread', 'honey', 'scales', 'march.csv')
  expect(gone).toMatchObject({ code: 1, err: expect.stringContaining('scales: seen is gone; day is new; note is new') })
  await all(['reread', 'honey', 'scales', 'march.csv', '--map', 'seen=day'])
  expect(await rows('scales')).toBe('tag,kg,day,later,note\nA,2.5,2026-02-03,2026-02-04,x\nC,1,,,y\n')
  writeFileSync(join(book.folder, 'march.csv'), 'tag;kg;day;note\nA;2,5;04.02.2026;x\n')
  await all(['reread', 'honey', 'scales'])
  expect(await rows('scales')).toBe('tag,kg,day,later,note\nA,2.5,2026-02-04,2026-02-05,x\n')
  expect(await run('reread', 'honey', 'scales', '--keep', 'kg')).toMatchObject({ code: 1, out: '' })
}, 40_000)

test('what a table has besides its file stays when the file is read again', async () => {
  await all(
    ['column', 'honey', 'add', 'hives.note:text'],
    ['stamp', 'honey', 'hives.entered', '--when', 'note', '--content', 'author'],
    ['set', 'honey', 'hives', '1', 'frames=12', 'note=by hand', '--author', 'ada'],
    ['rename', 'honey', 'hives.yard', 'to', 'place'],
  )
  writeFileSync(join(book.folder, 'hives.csv'), 'tag,place\nA,west\nD,east\n')
  const read = await run('reread', 'honey', 'hives', 'hives.csv', '--author', 'bea')
  expect(read).toMatchObject({ code: 0, err: expect.stringContaining('hives: frames is gone\n') })
  expect(await rows('hives')).toBe('tag,place,note,entered\nA,west,by hand,ada\nD,east,,\n')
  await all(['undo', 'honey'])
  expect(await rows('hives')).toBe('tag,place,frames,note,entered\nA,north,12,by hand,ada\nB,north,0,,\nC,south,,,\n')
  writeFileSync(join(book.folder, 'hives.csv'), 'tag,place,frames\nA,west,12\n')
  expect((await run('reread', 'honey', 'hives', 'hives.csv')).err).toBe(
    'hives: 2 rows that the file has no more: row 2, B; row 3, C; they go (to keep: --gone keep)\n',
  )
  expect(await rows('hives')).toBe('tag,place,frames,note,entered\nA,west,12,by hand,ada\n')
}, 40_000)

test('the file is told of as one would type it, though it is kept with its folder', async () => {
  writeFileSync(join(book.folder, 'june.csv'), 'tag;kg\nA;1\n')
  await all(['import', 'honey', 'june.csv', '--key', 'tag'])
  expect((await run('reread', 'honey', 'june')).err).toMatch(/^june\.csv: hint guessed-delimiter/)
})
