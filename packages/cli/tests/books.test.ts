import { execFileSync } from 'node:child_process'
import { existsSync, readFileSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { BookFile } from '@mellow-abacus/files'
import type { Operation } from 'mellow-abacus'
import { describe, expect, test } from 'vitest'
import { FILES, HoneyBook } from './honey-book.js'
import { bin, mellowHere } from './run-mellow.js'

/** Workbooks in files, as somebody at the terminal meets them. */

const book = new HoneyBook()
const { all, run, rows } = book

test('a workbook is begun, defined, edited and looked at', async () => {
  await all(
    ['link', 'honey', 'takes.hive -> hives.tag'],
    ['define', 'honey', 'takes', 'share = kg per hive.frames', 'jars = kg * 2'],
    ['tally', 'honey', 'takes', 'total = sum(jars)'],
    ['value', 'honey', 'price = 4.5'],
  )
  const set = await run('set', 'honey', 'takes', '2', 'kg=4')
  expect(set.code).toBe(0)
  expect(set.out).toBe(
    'revision 7  takes.kg of row id:2 set to 4\n  written       takes.kg 1 cell\n' +
      '  recalculated  takes.share 1 cell, takes.jars 1 cell, takes.total 1 cell\n',
  )
  expect(set.err).toContain('gone: takes.kg: misfits')
  expect(await rows('takes')).toBe('hive,kg,day,share,jars\nA,3,2026-03-01,0.3,6\nA,4,2026-03-04,0.4,8\nB,5.5,2026-03-09,,11\n')
  expect((await run('show', 'honey', 'takes', '--where', 'kg > 3', '--columns', 'kg,jars', '--to', 'json')).out).toBe(
    '[\n{"kg":4,"jars":8},\n{"kg":5.5,"jars":11}\n]\n',
  )
  const listed = (await run('list', 'honey', '--to', 'csv')).out
  expect(listed).toContain('column,takes.share,number,,kg per hive.frames')
  expect(listed).toContain('tally,tally:takes.total,number,,sum(jars)')
  expect(listed).toContain('link,link:takes.hive,,,hive -> hives.tag')
  expect(await all(['why', 'honey', 'takes.share', 'id:2'])).toContain('0.4 = kg per hive.frames')
  expect(await all(['why', 'honey', 'tally:takes.total'])).toContain('25 = sum(jars)')
  expect(await all(['trace', 'honey', 'takes.jars', '--to', 'mermaid'])).toContain('takes.kg')
  expect(await all(['explain', 'honey', 'takes.jars'])).toContain('kg')
  expect(await all(['profile', 'honey', 'takes.kg'])).toContain('different values,3')
}, 40_000)

test('rows are found by number, id and label, and by a condition', async () => {
  await all(['set', 'honey', 'hives', '1', 'frames=11'], ['set', 'honey', 'hives', 'id:2', 'frames=12'])
  await all(
    ['set', 'honey', 'hives', 'label=C', 'frames=13', 'yard=""'],
    ['set', 'honey', 'hives', '--where', 'frames < 12', 'yard='],
  )
  expect(await rows('hives')).toBe('tag,yard,frames\nA,,11\nB,north,12\nC,"",13\n')
  await all(['rows', 'honey', 'hives', 'add', '2', 'yard=west'], ['rows', 'honey', 'hives', 'remove', '--where', 'frames = 12'])
  expect(await rows('hives')).toBe('tag,yard,frames\nA,,11\nC,"",13\n,west,\n,west,\n')
  for (const [row, code, message] of [
    ['9', 1, 'there is no row 9'],
    ['id:2', 1, 'no row with id 2'],
    ['label=D', 1, 'labelled "D"'],
    ['first', 2, 'a row is its number'],
  ] as const)
    expect(await run('set', 'honey', 'hives', row, 'frames=1')).toMatchObject({
      code,
      out: '',
      err: expect.stringContaining(message),
    })
}, 40_000)

test('undo, redo, history and replay', async () => {
  await all(['define', 'honey', 'takes', 'jars = kg * 2'], ['set', 'honey', 'takes', '1', 'kg=30'])
  const edited = await rows('takes')
  await all(['undo', 'honey', '2'])
  expect(await rows('takes')).toBe(FILES['takes.csv'])
  await all(['redo', 'honey', '2'])
  expect(await rows('takes')).toBe(edited)
  expect(await all(['why', 'honey', 'takes.jars', '1', '--since', '3'])).toContain('6 → 60')
  const history = await all(['history', 'honey'])
  expect(history).toMatch(/ {3}4 {2}\S+ {2}\S+ {2}takes\.kg of row id:1 set to 30, 1 cell recalculated\n/)
  expect(history.split('\n')).toHaveLength(9)
  await all(['journal', 'honey', '--trim', '-o', 'steps.ndjson'], ['replay', 'steps.ndjson', 'copy'])
  expect(readFileSync(join(book.folder, 'steps.ndjson'), 'utf8').trim().split('\n')).toHaveLength(4)
  expect((await run('show', 'copy', 'takes')).out).toBe(edited)
  writeFileSync(join(book.folder, 'april.csv'), 'hive,kg\nB,1\n')
  writeFileSync(
    join(book.folder, 'short.ndjson'),
    readFileSync(join(book.folder, 'steps.ndjson'), 'utf8').split('\n').slice(0, 3).join('\n'),
  )
  await all(['replay', 'short.ndjson', 'april', '--source', 'takes=april.csv'])
  expect((await run('show', 'april', 'takes')).out).toBe('hive,kg,day,jars\nB,1,,2\n')
  expect(await run('undo', 'empty')).toMatchObject({ code: 2 })
}, 60_000)

test('steps taken back out of order are taken back in the copy that a journal makes', async () => {
  const file = BookFile.open(join(book.folder, 'honey.mellow'), { writes: true })
  const [ada, bea] = ['Ada', 'Bea'].map((author) => file.reader({ role: 'edit', author }))
  const frames = (row: number, value: number): Operation => ({
    op: 'set-cells',
    table: 'hives',
    cells: [{ row, column: 'frames', value }],
  })
  ada?.apply(frames(1, 11))
  bea?.apply(frames(2, 12))
  ada?.undo()
  ada?.redo()
  ada?.apply(frames(3, 13))
  bea?.undo()
  file.close()
  const edited = await rows('hives')
  expect(edited).toBe('tag,yard,frames\nA,north,11\nB,north,0\nC,south,13\n')
  await all(['journal', 'honey', '-o', 'steps.ndjson'], ['journal', 'honey', '--trim', '-o', 'standing.ndjson'])
  for (const journal of ['steps', 'standing']) {
    await all(['replay', `${journal}.ndjson`, journal])
    expect((await run('show', journal, 'hives')).out).toBe(edited)
  }
  const lost = readFileSync(join(book.folder, 'steps.ndjson'), 'utf8').replace('"of":3', '"of":99')
  writeFileSync(join(book.folder, 'lost.ndjson'), lost)
  expect(await run('replay', 'lost.ndjson', 'lost')).toMatchObject({ code: 2, err: expect.stringContaining('step 99') })
}, 60_000)

test('apply acknowledges each set once the file holds it, and stops at the first refused one', async () => {
  const lines = [
    { op: 'insert-rows', table: 'hives', rows: [{ tag: 'D' }] },
    [{ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'frames', value: 9 }] }],
    { op: 'set-cells', table: 'hives', cells: [{ row: 99, column: 'frames', value: 9 }] },
    { op: 'insert-rows', table: 'hives', rows: [{ tag: 'E' }] },
  ]
  const input = lines.map((line) => JSON.stringify(line)).join('\n')
  const { code, out, err } = await mellowHere(['apply', 'honey', '-'], { folder: book.folder, input })
  expect([code, out]).toEqual([1, '3\n4\n'])
  expect(err).toContain('no row with id 99')
  expect(await rows('hives')).toBe('tag,yard,frames\nA,north,9\nB,north,0\nC,south,\nD,,\n')
  for (const bad of ['{', '7', '{"op":3}', '{"kind":"jump","operations":[]}'])
    expect(await mellowHere(['apply', 'honey', '-'], { folder: book.folder, input: bad })).toMatchObject({ code: 2, out: '' })
}, 40_000)

describe('what is refused changes nothing', () => {
  test.each<[string, number, string[], string]>([
    ['a formula with a mistake', 1, ['define', 'honey', 'takes', 'x = kgg * 2'], '  kgg * 2\n  ^^^\n'],
    ['a calculated cell', 1, ['set', 'honey', 'takes', '1', 'jars=1'], 'calculated-cell'],
    ['a column in use', 1, ['remove', 'honey', 'takes.kg'], 'mellow remove honey takes.kg --detach-dependants\n'],
    ['a workbook that is there', 1, ['new', 'honey'], 'exists already'],
    ['a finding that is not there', 1, ['fix', 'honey', '99'], 'there is no finding 99'],
    ['a table that is not there', 1, ['define', 'honey', 'take', 'x = 1'], 'Nearest name: takes'],
    ['a warning with --strict', 1, ['define', 'honey', 'takes', 'x = kg / (kg - 3)', '--strict'], '--strict'],
    ['a column that has values', 1, ['fill', 'honey', 'takes', 'kg = 1'], '--replace'],
    ['no workbook', 2, ['show', 'hony'], 'there is no workbook'],
    ['a verb without its words', 2, ['set', 'honey'], 'missing'],
  ])(
    '%s',
    async (_, code, args, message) => {
      await all(['define', 'honey', 'takes', 'jars = kg * 2'])
      const before = await rows('takes')
      const done = await run(...args)
      expect([done.code, done.out]).toEqual([code, ''])
      expect(done.err).toContain(message)
      expect(await rows('takes')).toBe(before)
      expect(await all(['history', 'honey'])).not.toContain('   4  ')
    },
    20_000,
  )

  test('an import that cannot be made leaves no workbook', async () => {
    expect(await run('import', 'other', 'none.csv')).toMatchObject({ code: 2 })
    expect(existsSync(join(book.folder, 'other.mellow'))).toBe(false)
  })
})

test('an import says which types it found and why, and which keys are there twice', async () => {
  const lines = ['code,n,k', ...Array.from({ length: 30 }, (_, row) => `0${row},${row === 3 ? 'many' : row},${row % 29}`)]
  writeFileSync(join(book.folder, 'odd.csv'), `${lines.join('\n')}\n`)
  const preview = await run('import', 'fresh', 'odd.csv', '--key', 'k', '--preview')
  expect([preview.code, preview.out]).toEqual([0, expect.stringContaining('fresh.mellow would be made, with the table odd.')])
  expect(existsSync(join(book.folder, 'fresh.mellow'))).toBe(false)
  const made = await run('import', 'fresh', 'odd.csv', '--key', 'k')
  for (const text of [
    'code: text (whole numbers with leading zeros are codes)',
    'n: number (29 of 30 cells fit); 1 cell that do not fit, such as "many"'.replace(
      '1 cell that do not fit',
      '1 cell that does not fit',
    ),
    'key k: 2 rows with a key that another row has too',
  ])
    expect(made.err).toContain(text)
})

test('--preview says what would follow and changes nothing', async () => {
  const before = await rows('takes')
  const preview = await all(['define', 'honey', 'takes', "grade = if(kg > 4, 'big', 'small')", '--preview'])
  expect(preview).toContain('takes.grade: 3 cells would differ')
  expect(preview).toContain('small')
  expect(await all(['rows', 'honey', 'takes', 'remove', '1', '--preview'])).toContain('rows gone     takes 1 row')
  expect(await rows('takes')).toBe(before)
})

test('the life of a column', async () => {
  await all(['define', 'honey', 'takes', 'jars = kg * 2', 'boxes = jars / 2'])
  await all(['pause', 'honey', 'takes.jars'], ['set', 'honey', 'takes', '1', 'jars=100'], ['set', 'honey', 'takes', '3', 'kg=6'])
  expect(await rows('takes')).toContain('A,3,2026-03-01,100,50')
  const refused = await run('resume', 'honey', 'takes.jars')
  expect(refused).toMatchObject({ code: 1, err: expect.stringContaining('1 of them typed by hand') })
  await all(['resume', 'honey', 'takes.jars', '--discard', '1'], ['rename', 'honey', 'takes.jars', 'to', 'glasses'])
  expect(await all(['describe', 'honey', 'takes.boxes'])).toContain('glasses / 2')
  await all(
    ['describe', 'honey', 'takes.glasses', '--unit', 'jar', '--tag', 'sold'],
    ['move', 'honey', 'takes.glasses', '--before', 'kg'],
  )
  await all(['detach', 'honey', 'takes.boxes'], ['hide', 'honey', 'takes.day'], ['rename', 'honey', 'takes', 'to', 'harvests'])
  expect(await rows('harvests')).toBe('hive,glasses,kg,boxes\nA,6,3,3\nA,!misfit,4?,!misfit\nB,12,6,6\n')
  await all(['export', 'honey', 'harvests', '-o', 'out.csv', '--columns', 'day,kg'])
  expect(readFileSync(join(book.folder, 'out.csv'), 'utf8')).toBe('day,kg\n2026-03-01,3\n2026-03-04,4?\n2026-03-09,6\n')
  await all(['unhide', 'honey', 'harvests.day'], ['remove', 'honey', 'harvests.kg', '--detach-dependants'])
  expect(await rows('harvests')).toContain('hive,glasses,day,boxes\nA,6,2026-03-01,3\n')
}, 60_000)

test('on demand, stale cells are told, and calculated when asked for', async () => {
  await all(['define', 'honey', 'takes', 'jars = kg * 2', 'today_is = today()'], ['mode', 'honey', 'on-demand'])
  expect(await all(['set', 'honey', 'takes', '1', 'kg=10'])).toContain('stale         takes.jars 1 cell')
  const stale = await run('show', 'honey', 'takes', '--columns', 'jars')
  expect(stale).toMatchObject({ out: expect.stringMatching(/^jars\n6\n/), err: expect.stringContaining('1 cell is stale') })
  await all(['recalculate', 'honey', 'takes.jars'], ['mode', 'honey', 'live'], ['tick', 'honey', '--now', '2026-06-01'])
  expect((await run('show', 'honey', 'takes', '--columns', 'jars,today_is', '--limit', '1')).out).toBe(
    'jars,today_is\n20,2026-06-01\n',
  )
}, 40_000)

test('a table says what state its columns are in', async () => {
  await all(
    ['define', 'honey', 'takes', 'jars = kg * 2', 'boxes = jars / 2', 'half = kg / 2'],
    ['stamp', 'honey', 'takes.filled', '--when', 'kg'],
    ['pause', 'honey', 'takes.jars'],
    ['mode', 'honey', 'on-demand'],
    ['set', 'honey', 'takes', '1', 'kg=4'],
  )
  const shown = await all(['show', 'honey', 'takes', '--to', 'table', '--columns', 'hive,jars,boxes,half,filled'])
  expect(shown.split('\n')[0]).toMatch(/^row +○ hive +◌ jars +● boxes +◐ half +◇ filled$/)
  expect(await all(['list', 'honey', 'columns'])).toContain('column,takes.half,number,,kg / 2,stale')
  expect(await all(['remove', 'honey', 'takes.half', '--preview'])).toBe('preview  takes.half removed; nothing is changed\n')
}, 40_000)

test('operations of a file and a journal are previewed as a whole, and keep nothing', async () => {
  writeFileSync(
    join(book.folder, 'ops.ndjson'),
    '{"op":"set-value","name":"x","value":3}\n{"op":"set-value","name":"y","formula":"x * 2"}\n',
  )
  const apply = await all(['apply', 'honey', 'ops.ndjson', '--preview'])
  expect(apply).toMatch(/^preview {2}value x = 3; nothing is changed\n[\s\S]*preview {2}value y = x \* 2; nothing is changed\n/)
  expect(await all(['list', 'honey', 'values', '--to', 'csv'])).toBe('kind,address,type,unit,formula,state,rows,bytes,findings\n')
  await all(['journal', 'honey', '-o', 'steps.ndjson'])
  const replay = await run('replay', 'steps.ndjson', 'fresh', '--preview')
  expect(replay).toMatchObject({
    code: 0,
    out: expect.stringContaining('rows added    takes 3 rows'),
    err: 'Nothing was changed: this is a preview.\n',
  })
  expect(existsSync(join(book.folder, 'fresh.mellow'))).toBe(false)
  expect(await run('replay', 'ops.ndjson', 'honey', '--preview')).toMatchObject({
    code: 0,
    out: expect.stringContaining('value y = x * 2'),
  })
  expect(await all(['history', 'honey'])).not.toContain('   3  ')
  const steps = await mellowHere(['replay', 'steps.ndjson', 'stepped', '--step'], { folder: book.folder, input: '\n' })
  expect(steps).toMatchObject({ code: 0, out: '1\n', err: expect.stringContaining('1 of 2 steps replayed') })
  expect(await run('replay', 'steps.ndjson', 'other', '--source', 'nowhere=takes.csv')).toMatchObject({ code: 2, out: '' })
  expect(existsSync(join(book.folder, 'other.mellow'))).toBe(false)
}, 60_000)

test('a table from nothing, filled', async () => {
  await all(
    ['table', 'honey', 'add', 'visits', 'day:date', 'note', '--rows', '3'],
    ['column', 'honey', 'add', 'visits.n:integer'],
  )
  await all(
    ['fill', 'honey', 'visits', 'n = row_number()'],
    ['fill', 'honey', 'visits', 'day = add_days(date(2026, 3, 1), 7 * n)'],
  )
  await all(['fill', 'honey', 'visits', 'n = n * 10'])
  expect(await rows('visits')).toBe('day,note,n\n2026-03-08,,10\n2026-03-15,,20\n2026-03-22,,30\n')
}, 40_000)

test('findings are listed with their fixes', async () => {
  writeFileSync(join(book.folder, 'codes.csv'), 'code,n\na,1\nb,2\n')
  await all(['import', 'honey', 'codes.csv', '--type', 'n=text'], ['set', 'honey', 'codes', '1', 'n=x'])
  const { code, out } = await run('check', 'honey')
  expect(code).toBe(0)
  const number = /^(\d+)\. codes\.n: hint numbers-as-text/m.exec(out)?.[1] as string
  expect(out).toContain(`mellow fix honey ${number}: Make n a number column`)
  await all(['fix', 'honey', number])
  expect(await all(['describe', 'honey', 'codes.n'])).toContain('type      number')
}, 40_000)

test('a tally is mended like a column', async () => {
  await all(['define', 'honey', 'hives', 'rate = frames per (frames + 1)'], ['tally', 'honey', 'hives', 'rates = sum(rate)'])
  const checked = (await run('check', 'honey')).out
  const number = /^(\d+)\. hives\.rates: hint total-of-ratio/m.exec(checked)?.[1] as string
  await all(['fix', 'honey', number])
  expect(await all(['list', 'honey', 'tallies'])).toContain('tally,tally:hives.rates,number,,sum(frames) per sum(frames + 1)')
}, 20_000)

test('a stamp records who filled what, and is not typed over', async () => {
  await all(
    ['stamp', 'honey', 'takes.seen_by', '--when', 'kg', '--on', 'each-change', '--content', 'author'],
    ['set', 'honey', 'takes', '2', 'kg=4', '--author', 'ada'],
  )
  expect(await rows('takes')).toBe('hive,kg,day,seen_by\nA,3,2026-03-01,\nA,4,2026-03-04,ada\nB,5.5,2026-03-09,\n')
  const typed = await run('set', 'honey', 'takes', '1', 'seen_by=eve')
  expect([typed.code, typed.err]).toEqual([1, expect.stringContaining('stamped-cell')])
  await all(['detach', 'honey', 'takes.seen_by'], ['set', 'honey', 'takes', '1', 'seen_by=eve'])
  expect((await run('stamp', 'honey', 'nowhere.x', '--when', 'kg')).code).toBe(2)
})

test('a calendar is made from a span, a weekend and holidays', async () => {
  writeFileSync(join(book.folder, 'days.csv'), 'day,name\n2026-01-01,New Year\n2027-01-01,New Year\n')
  const made = await run('table', 'honey', 'add', 'days', '--calendar', '2026-01-01..2026-01-04', '--holidays', 'days.csv')
  expect([made.code, made.err]).toEqual([0, expect.stringContaining('1 of the 2 holidays are outside the calendar')])
  expect(await rows('days')).toBe(
    'day,working,holiday\n2026-01-01,false,New Year\n2026-01-02,true,\n2026-01-03,false,\n2026-01-04,false,\n',
  )
  for (const span of ['2026-01-04..2026-01-01', 'soon', '0001-01-01..9999-12-31'])
    expect((await run('table', 'honey', 'add', 'x', '--calendar', span)).code).toBe(2)
  expect((await run('table', 'honey', 'add', 'x', '--calendar', '2026-01-01..2026-01-02', '--weekend', 'sat son')).err).toContain(
    '"son"',
  )
})

test('properties: how values are shown, in which order they stand, whose child a row is', async () => {
  await all(
    ['describe', 'honey', 'hives.frames', '--decimals', '1', '--unit', 'frames', '--heading', 'Frames'],
    ['describe', 'honey', 'hives.yard', '--order-key', 'frames'],
    ['tally', 'honey', 'hives', 'all_frames = sum(frames)'],
    ['column', 'honey', 'add', 'hives.above:text'],
    ['describe', 'honey', 'hives', '--parent', 'above'],
    ['define', 'honey', 'hives', 'below = count(hives via above)'],
  )
  const shown = await run('show', 'honey', 'hives', '--to', 'table', '--where', "yard = 'north'", '--columns', 'tag,frames')
  expect(shown.out).toBe(
    `  row  ○ tag  ○ Frames frames
    1  A                 10.0
    2  B                  0.0
  all                    10.0
shown                    10.0
                   all_frames
`,
  )
  expect((await run('describe', 'honey', 'hives.yard')).out).toContain('order key')
  expect((await run('describe', 'honey', 'hives')).out).toContain('parent    above')
  const bad = await run('describe', 'honey', 'hives.frames', '--display', 'dd/MM')
  expect([bad.code, bad.err]).toEqual([1, expect.stringContaining('currency:EUR')])
})

test('undo is previewed, and a resumed column says what it loses', async () => {
  await all(['set', 'honey', 'hives', '3', 'frames=4'])
  const preview = await run('undo', 'honey', '--preview')
  expect([preview.code, preview.out, preview.err]).toEqual([
    0,
    expect.stringContaining('undo: hives.frames of row id:3 set to blank'),
    expect.stringContaining('Nothing was changed'),
  ])
  expect(await rows('hives')).toContain('C,south,4')
  await all(
    ['define', 'honey', 'hives', 'twice = frames * 2'],
    ['pause', 'honey', 'hives.twice'],
    ['set', 'honey', 'hives', '1', 'twice=7'],
    ['set', 'honey', 'hives', '2', 'frames=9'],
  )
  const resume = await run('resume', 'honey', 'hives.twice')
  expect([resume.code, resume.err]).toEqual([
    1,
    expect.stringContaining('2 cells of hives.twice would change, 1 of them typed by hand.'),
  ])
})

test('rules are watched, and findings accepted until their rows change', async () => {
  const rule = await run('rule', 'honey', 'hives', 'framed: frames > 3', '--note', 'Look again.')
  expect([rule.code, rule.out]).toEqual([0, 'revision 3  rule framed of hives: frames > 3\n'])
  expect(rule.err).toContain(
    'hives.framed: warning rule-broken: The rule framed (frames > 3) does not hold on 1 row: row 2. Look again.',
  )
  const checked = await run('check', 'honey')
  const number = /^(\d+)\. hives\.framed/m.exec(checked.out)?.[1] as string
  expect((await run('accept', 'honey', number)).code).toBe(2)
  await all(['accept', 'honey', number, '--because', 'an empty box', '--author', 'ada'])
  const after = await run('check', 'honey')
  expect(after.out).toMatch(/hives\.framed: .* \(accepted by ada, .*, because an empty box\)/)
  expect(await all(['list', 'honey', 'rule'])).toContain('rule,rule:framed,,,frames > 3')
  const set = await run('set', 'honey', 'hives', '2', 'frames=1')
  expect(set.err).toContain('rule-broken')
  await all(['remove', 'honey', 'rule:framed'])
  expect((await run('rule', 'honey', 'hives', 'no condition')).err).toContain("expected 'name: condition'")
  expect((await run('accept', 'honey', '99', '--because', 'x')).err).toContain('there is no finding 99')
})

test('tables go out as Arrow, Parquet and sheets, and come back', async () => {
  await all(['export', 'honey', 'hives', '-o', 'hives.parquet'], ['export', 'honey', 'hives', '-o', 'hives.arrow'])
  for (const file of ['hives.parquet', 'hives.arrow']) expect((await run('calc', file)).out).toBe(FILES['hives.csv'])
  const sheets = await run('export', 'honey', '-o', 'honey.xlsx')
  expect([sheets.code, sheets.err]).toEqual([0, '2 sheets, 6 rows in all, written to honey.xlsx\n'])
  expect((await run('calc', 'honey.xlsx', '--sheet', 'takes')).out).toBe(FILES['takes.csv'])
  const lossy = await run('export', 'honey', 'takes', '-o', 'takes.parquet')
  expect(lossy.err).toContain('kg: warning not-held: 1 cell of kg cannot be kept in parquet as they are')
  const strict = await run('export', 'honey', 'takes', '-o', 'strict.parquet', '--strict')
  expect([strict.code, existsSync(join(book.folder, 'strict.parquet'))]).toEqual([1, false])
  const cut = readFileSync(join(book.folder, 'hives.parquet'))
  writeFileSync(join(book.folder, 'cut.parquet'), cut.subarray(0, cut.length / 2))
  const refused = await run('import', 'honey', 'cut.parquet')
  expect([refused.code, refused.err]).toEqual([2, expect.stringContaining('cut.parquet: this is not a whole Parquet file')])
  expect((await run('calc', 'honey.xlsx', '--sheet', 'hive')).err).toContain('Nearest: hives.')
}, 30_000)

test('a workbook goes into a bundle and comes out of it', async () => {
  await all(['define', 'honey', 'hives', 'twice = frames * 2'], ['rule', 'honey', 'hives', 'framed: frames > 3'])
  const out = await run('export', 'honey', '-o', 'honey.zip')
  expect([out.code, out.err]).toEqual([0, expect.stringContaining('2 tables written to honey.zip')])
  await all(['import', 'again', 'honey.zip'])
  for (const table of ['hives', 'takes'])
    expect((await run('show', 'again', table)).out).toBe((await run('show', 'honey', table)).out)
  const there = await run('import', 'again', 'honey.zip')
  expect([there.code, there.err]).toEqual([2, expect.stringContaining('again.mellow is there already')])
  writeFileSync(join(book.folder, 'bad.zip'), 'no zip')
  expect((await run('import', 'other', 'bad.zip')).err).toContain('bad.zip: this is not a bundle')
  expect(existsSync(join(book.folder, 'other.mellow'))).toBe(false)
}, 30_000)

test('texts that look like formulas can be neutralised; hidden columns stay unless named', async () => {
  await all(['set', 'honey', 'hives', '1', 'yard==1+1'], ['hide', 'honey', 'hives.frames'])
  await all(['export', 'honey', 'hives', '-o', 'safe.csv', '--neutralize'], ['export', 'honey', 'hives', '-o', 'plain.csv'])
  expect(readFileSync(join(book.folder, 'safe.csv'), 'utf8')).toBe("tag,yard\nA,'=1+1\nB,north\nC,south\n")
  expect(readFileSync(join(book.folder, 'plain.csv'), 'utf8')).toContain('A,=1+1\n')
  await all(['export', 'honey', 'hives', '-o', 'named.csv', '--columns', 'tag,frames'])
  expect(readFileSync(join(book.folder, 'named.csv'), 'utf8')).toBe('tag,frames\nA,10\nB,0\nC,\n')
})

test('a shell completes verbs, tables and columns', async () => {
  await all(['define', 'honey', 'takes', 'jars = kg * 2'], ['tally', 'honey', 'takes', 'total = sum(jars)'])
  expect((await run('completion', 'words', 'honey')).out.split('\n')).toEqual(
    expect.arrayContaining(['hives', 'hives.tag', 'takes.jars', 'tally:takes.total']),
  )
  expect(await run('completion', 'words', 'none')).toEqual({ code: 0, out: '', err: '' })
  for (const shell of ['bash', 'zsh', 'fish']) expect((await run('completion', shell)).out).toContain('define')
  // The script is run by the shell itself, with the tool under its own name.
  const script = [
    `mellow() { '${process.execPath}' '${bin}' "$@"; }`,
    `source <(mellow completion bash)`,
    `COMP_WORDS=(mellow set honey takes.j); COMP_CWORD=3; _mellow; echo $COMPREPLY`,
    `COMP_WORDS=(mellow desc); COMP_CWORD=1; _mellow; echo $COMPREPLY`,
  ].join('\n')
  expect(execFileSync('bash', ['-c', script], { cwd: book.folder, encoding: 'utf8' })).toBe('takes.jars\ndescribe\n')
}, 40_000)
