import { inspect } from 'node:util'
import { describe, expect, test } from 'vitest'
import { type ChangeSet, quoteText, Refusal, type WindowRows, Workbook } from '../src/index.js'

/** What a program needs around a workbook: rows by key, pages of a query, windows, notes of its own, views that say what they are. */

function harvests(): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'code', type: 'text' },
        { name: 'apiary', type: 'text' },
        { name: 'boxes', type: 'integer' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'hives',
      block: { code: ['H1', 'H2', 'H3', 'H3'], apiary: ['North', 'Fen', 'Fen', "O'Hara"], boxes: [2, 3, 1, null] },
    },
    { op: 'change-table', table: 'hives', set: { key: ['code'] } },
    { op: 'add-column', table: 'hives', column: { name: 'twice', formula: 'boxes * 2' } },
  ])
  return book
}

const codesOf = (rows: Iterable<{ get(column: string): unknown }>): unknown[] => Array.from(rows, (row) => row.get('code'))

describe('rows', () => {
  test('by id, number and one after the other', () => {
    const table = harvests().table('hives')
    const row = table.row(2)
    expect([row?.id, row?.number, row?.get('TWICE'), table.row(9)]).toEqual([2, 2, 6, undefined])
    expect({ ...row?.values() }).toEqual({ code: 'H2', apiary: 'Fen', boxes: 3, twice: 6 })
    expect(codesOf(table)).toEqual(['H1', 'H2', 'H3', 'H3'])
    expect(() => row?.get('bokses')).toThrow('Nearest name: boxes')
  })

  test('by key, through an index that follows edits', () => {
    const book = harvests()
    const table = book.table('hives')
    expect(table.find('H2')?.id).toBe(2)
    expect(table.find('H9')).toBeUndefined()
    expect(table.find(null)).toBeUndefined()
    expect(table.find({ apiary: 'Fen', boxes: 1 })?.id).toBe(3)
    expect(table.find({ twice: 6 })?.get('code')).toBe('H2')
    expect(() => table.find('H3')).toThrow('2 rows have this key; findAll gives them all.')
    expect(table.findAll('H3').map(({ id }) => id)).toEqual([3, 4])
    expect(() => table.find({ code: 'H1', none: 1 })).toThrow(Refusal)
    book.apply([
      { op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'code', value: 'H7' }] },
      { op: 'insert-rows', table: 'hives', rows: [{ code: 'H1' }], before: 1 },
      { op: 'remove-rows', table: 'hives', rows: [3] },
    ])
    expect([table.find('H7')?.number, table.find('H1')?.number, table.find('H3')?.id]).toEqual([2, 1, 4])
    book.undo()
    expect([table.find('H7'), table.find('H1')?.id]).toEqual([undefined, 1])
    book.apply({ op: 'remove-column', table: 'hives', column: 'twice' })
    book.undo()
    expect(table.find({ twice: 6 })?.id).toBe(2)
  })

  test('a single value needs a key of one column', () => {
    const book = harvests()
    book.apply({ op: 'change-table', table: 'hives', set: { key: null } })
    expect(() => book.table('hives').find('H1')).toThrow('give values by column')
  })
})

describe('queries', () => {
  const codes = (book: Workbook, query: object): unknown =>
    book
      .query({ table: 'hives', columns: ['code'], ...query })
      .rows()
      .flat()

  test('page by page', () => {
    const book = harvests()
    const page = book.query({ table: 'hives', order: 'code desc', offset: 1, limit: 2 })
    expect([page.matched, page.ids()]).toEqual([4, [4, 2]])
    expect(codes(book, { offset: 3 })).toEqual(['H3'])
    expect(codes(book, { offset: 9 })).toEqual([])
    expect(() => book.query({ table: 'hives', offset: -1 })).toThrow('field offset')
  })

  test.each([
    ['code = ?', ['H2'], ['H2']],
    ['apiary = ?', ["O'Hara"], ['H3']],
    ['apiary = ?', ["x' or true or '"], []],
    ['boxes >= ? and boxes < ?', [-1, 2.5], ['H1', 'H3']],
    ['(boxes is blank) = ?', [true], ['H3']],
    ["apiary <> '?' and code = ? // ?", ['H1'], ['H1']],
    ['coalesce(boxes, ?) = ?', [null, 3], ['H2']],
    ['@2026-03-14 = ? and code = ?', [{ date: '2026-03-14' }, 'H1'], ['H1']],
    ['@2026-03-14T09:30:00 <= ? and code = ?', [{ datetime: '2026-03-14T09:30:00' }, 'H1'], ['H1']],
  ])('%s with %j', (where, parameters, expected) => {
    expect(codes(harvests(), { where, parameters })).toEqual(expected)
  })

  test.each([
    [{ where: 'code = ?' }, 'has 1 places for a value ("?"), received 0'],
    [{ where: 'code = ?', parameters: ['a', 'b'] }, 'received 2'],
    [{ parameters: ['a'] }, 'there is no condition'],
    [{ where: 'code = ?', parameters: [{ date: '2026-13-01' }] }, 'expected a date or time in ISO 8601'],
    [{ where: 'code = ?', parameters: [Number.NaN] }, 'field parameters'],
  ])('refuses %j', (query, message) => {
    expect(() => codes(harvests(), query)).toThrow(message)
  })

  test('a text is quoted so that it stays one', () => {
    const book = harvests()
    const { values } = book.evaluate('hives', quoteText("it's 'x' -- \\ \n ?"))
    expect(values[0]).toBe("it's 'x' -- \\ \n ?")
  })
})

describe('a window', () => {
  test('follows edits, and keeps what has not changed as it is', () => {
    const book = harvests()
    const shown: WindowRows[] = []
    const window = book.subscribe({ table: 'hives', columns: ['code', 'twice'], from: 2, to: 4 }, (rows) => shown.push(rows))
    const first = window.current
    expect(first).toMatchObject({ table: 'hives', columns: ['code', 'twice'], rowCount: 4, isGone: false })
    expect(first.rows.map(({ id, number, values }) => [id, number, values])).toEqual([
      [2, 2, ['H2', 6]],
      [3, 3, ['H3', 2]],
    ])
    book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'boxes', value: 9 }] })
    expect([shown.length, window.current]).toEqual([0, first])
    book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 2, column: 'boxes', value: 5 }] })
    expect(shown).toHaveLength(1)
    expect(shown[0]?.rows[0]?.values).toEqual(['H2', 10])
    expect(shown[0]?.rows[1]).toBe(first.rows[1])
    book.apply({ op: 'insert-rows', table: 'hives', rows: [{ code: 'H0' }], before: 1 })
    expect(window.current.rows.map(({ values }) => values[0])).toEqual(['H1', 'H2'])
    window.show({ from: 5 })
    expect(window.current.rows.map(({ values }) => values[0])).toEqual(['H3'])
    window()
    book.undo()
    expect(shown).toHaveLength(3)
    expect(() => book.subscribe({ table: 'hives', from: 0 }, () => {})).toThrow('expected row numbers from 1')
    expect(() => book.subscribe({ table: 'hive' }, () => {})).toThrow('Nearest name: hives')
  })

  test('says when its table or a column of it is gone, and when it is back', () => {
    const book = harvests()
    const window = book.subscribe({ table: 'hives', columns: ['twice'] }, () => {})
    book.apply({ op: 'remove-column', table: 'hives', column: 'twice' })
    expect([window.current.isGone, window.current.rows]).toEqual([true, []])
    book.undo()
    expect([window.current.isGone, window.current.rows.length]).toEqual([false, 4])
    book.apply({ op: 'remove-table', table: 'hives' })
    expect(window.current.isGone).toBe(true)
  })
})

describe('views', () => {
  test('print themselves', () => {
    const table = harvests().table('hives')
    expect(String(table)).toBe('table hives: 4 rows of code, apiary, boxes, twice')
    expect(inspect(table)).toBe('Table { table hives: 4 rows of code, apiary, boxes, twice }')
    expect(inspect(table.column('twice'))).toBe('Column { column hives.twice: number = boxes * 2 }')
    expect(inspect(table.row(1))).toBe('Row { row 1 of hives (id 1) }')
  })

  test('say when what they show is gone', () => {
    const book = harvests()
    const table = book.table('hives')
    const column = table.column('boxes')
    const row = table.row(1)
    book.apply({ op: 'remove-rows', table: 'hives', rows: [1] })
    expect(() => row?.get('code')).toThrow(Refusal)
    book.undo()
    expect(row?.get('code')).toBe('H1')
    book.apply({ op: 'remove-table', table: 'hives' })
    expect([table.isGone, column.isGone, String(table), String(column)]).toEqual([
      true,
      true,
      'table hives, which is gone',
      'column hives.boxes, which is gone',
    ])
    expect(() => table.rowCount).toThrow('It was there and is gone.')
    expect(() => column.values()).toThrow('It was there and is gone.')
  })
})

test('typed access: numbers, texts, dates by choice', () => {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 't',
      columns: [
        { name: 'day', type: 'date' },
        { name: 'at', type: 'datetime' },
        { name: 'note', type: 'text' },
      ],
    },
    { op: 'insert-rows', table: 't', rows: [{ day: '2026-03-14', at: '2026-03-14T09:30:00', note: 'a' }, {}] },
  ])
  const column = (name: string) => book.table('t').column(name)
  expect(column('day').values()).toEqual(['2026-03-14', null])
  expect([...column('day').numbers()]).toEqual([Date.UTC(2026, 2, 14) / 86_400_000, Number.NaN])
  expect(column('day').dates()).toEqual([new Date(Date.UTC(2026, 2, 14)), null])
  expect(column('at').dates()).toEqual([new Date(Date.UTC(2026, 2, 14, 9, 30)), null])
  expect([column('note').texts(), column('note').dates(), column('day').texts()]).toEqual([
    ['a', null],
    [null, null],
    ['2026-03-14', null],
  ])
})

test('notes of the program around it are kept, undone, and are no prototype', () => {
  const book = new Workbook()
  book.apply({ op: 'set-metadata', name: '__proto__', value: { schema: 3 } })
  expect(Object.keys(book.metadata)).toEqual(['__proto__'])
  book.undo()
  expect(Object.keys(book.metadata)).toEqual([])
  // @ts-expect-error no JSON
  expect(() => book.apply({ op: 'set-metadata', name: 'x', value: () => 1 })).toThrow('expected plain JSON')
})

test('a change set survives being posted to another thread', () => {
  const book = harvests()
  const told: ChangeSet[] = []
  book.on('change', (change) => told.push(change))
  const change = book.apply({ op: 'insert-rows', table: 'hives', rows: [{ code: 'H8', boxes: 4 }] })
  const posted = structuredClone(told[0]) as ChangeSet
  expect(JSON.parse(JSON.stringify(posted))).toEqual(JSON.parse(JSON.stringify(change)))
  const other = harvests()
  other.apply(posted.operations)
  expect(other.table('hives').column('twice').values()).toEqual(book.table('hives').column('twice').values())
})

test('a change set names the rows that it was about, also when another row has come in their place', () => {
  const book = harvests()
  const [inserted] = book.apply({ op: 'insert-rows', table: 'hives', rows: [{ code: 'H8', boxes: 4 }] }).inserted
  const row = inserted?.ids[0] as number
  const heard: [revision: number, ids: number[]][] = []
  book.on('change', (change) => {
    // Two edits more before the next listener hears of the first.
    if (change.revision === edited) {
      book.apply({ op: 'remove-rows', table: 'hives', rows: [row] })
      book.apply({ op: 'insert-rows', table: 'hives', rows: [{ code: 'H9', boxes: 1 }] })
    }
  })
  book.on('change', ({ revision, changed }) => heard.push([revision, [...(changed[0]?.ids() ?? [])]]))
  const edited = book.revision + 1
  const change = book.apply({ op: 'set-cells', table: 'hives', cells: [{ row, column: 'boxes', value: 5 }] })
  expect(heard[0]).toEqual([edited, [row]])
  expect(change.changed.map((cells) => [...cells.ids()])).toEqual([[row], [row]])
  expect(inserted?.ids).toEqual([row])
  const calculated = (): unknown => inserted?.calculated().get('twice')
  expect(calculated()).toEqual([null])
  // It comes back to another place in storage.
  book.undo()
  book.undo()
  book.apply({ op: 'insert-rows', table: 'hives', rows: [{ code: 'H9', boxes: 1 }], before: row })
  expect([inserted?.ids, calculated()]).toEqual([[row], [10]])
})
