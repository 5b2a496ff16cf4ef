import { describe, expect, test } from 'vitest'
import { type Operation, Refusal, Workbook } from '../src/index.js'

/** Properties of tables, formulas that are computed without being kept, and addresses. */

function hives(): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'hives',
      columns: [
        { name: 'tag', type: 'text' },
        { name: 'yard', type: 'text' },
        { name: 'frames', type: 'number' },
        { name: 'since', type: 'date' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'hives',
      rows: [
        { tag: 'A', yard: 'north', frames: 10, since: '2026-03-01' },
        { tag: 'B', yard: 'north', frames: 0 },
        { tag: 'C', frames: { misfit: 'ten' } },
      ],
    },
    { op: 'set-value', name: 'price', value: 2 },
    { op: 'set-tally', table: 'hives', name: 'all', formula: 'count()' },
  ])
  return book
}

describe('a table has a label, a key and a source', () => {
  const set = { label: 'tag', key: ['tag', 'yard'], parent: null, source: { file: 'hives.csv', options: { decimal: ',' } } }
  const change = (book: Workbook, fields: Operation | object): void =>
    void book.apply({ op: 'change-table', table: 'hives', set: fields } as Operation)

  test('which follow a new name', () => {
    const book = hives()
    expect(book.table('hives').properties).toEqual({ label: null, key: null, parent: null, source: null })
    change(book, set)
    book.apply({ op: 'rename-column', table: 'hives', column: 'tag', to: 'name' })
    expect(book.table('hives').properties).toEqual({ ...set, label: 'name', key: ['name', 'yard'] })
  })

  test('and are gone with their column, until it is back', () => {
    const book = hives()
    change(book, set)
    book.apply({ op: 'remove-column', table: 'hives', column: 'tag' })
    expect(book.table('hives').properties).toMatchObject({ label: null, key: null })
    book.undo()
    expect(book.table('hives').properties).toEqual(set)
  })

  test('each is set by itself, and taken away by null', () => {
    const book = hives()
    change(book, set)
    change(book, { key: null })
    expect(book.table('hives').properties).toEqual({ ...set, key: null })
    book.undo()
    expect(book.table('hives').properties).toEqual(set)
  })

  test.each([[{ label: 'none' }], [{ key: [] }], [{ key: ['tag', 'none'] }], [{ source: 'hives.csv' }], [{ colour: 'red' }]])(
    'refused: %j',
    (fields) => {
      const book = hives()
      expect(() => change(book, fields)).toThrow(Refusal)
      expect(book.table('hives').properties.label).toBeNull()
    },
  )
})

describe('a formula is computed without being kept', () => {
  test.each<[string, string | null, unknown[]]>([
    ['frames * 2', 'number', [20, 0, { error: 'misfit' }]],
    ['10 / frames', 'number', [1, { error: 'division-by-zero' }, { error: 'misfit' }]],
    ['row_number()', 'number', [1, 2, 3]],
    ['count(by yard)', 'number', [2, 2, 1]],
    ["tag & '!'", 'text', ['A!', 'B!', 'C!']],
    ['add_days(since, 1)', 'date', ['2026-03-02', null, null]],
    ['frames > 5', 'boolean', [true, false, { error: 'misfit' }]],
    ['price + all', 'number', [5, 5, 5]],
    ['blank', null, [null, null, null]],
  ])('%s', (formula, type, values) => {
    const book = hives()
    const revision = book.revision
    const found = book.evaluate('hives', formula)
    expect([found.type, found.rows, found.values]).toEqual([type, [1, 2, 3], values])
    expect([book.revision, book.table('hives').columns.length]).toEqual([revision, 4])
  })

  test('one with mistakes is refused with its place', () => {
    expect(() => hives().evaluate('hives', 'frame * 2')).toThrow(/frames/)
    expect(() => hives().evaluate('hive', '1')).toThrow(/hives/)
  })
})

test.each<[string, unknown]>([
  ['hives.tag', { kind: 'column', table: 'hives', name: 'tag' }],
  ['HIVES.Tag', { kind: 'column', table: 'hives', name: 'tag' }],
  ['value:price', { kind: 'value', table: 'book', name: 'price' }],
  ['tally:hives.all', { kind: 'tally', table: 'hives', name: 'all' }],
])('an address says what it names: %s', (address, expected) => expect(hives().addressed(address)).toEqual(expected))

test('rows are found by number and by id', () => {
  const book = hives()
  book.apply([
    { op: 'remove-rows', table: 'hives', rows: [1] },
    { op: 'move-rows', table: 'hives', rows: [3], before: 2 },
  ])
  const table = book.table('hives')
  expect([table.idAt(1), table.idAt(2), table.idAt(3), table.idAt(0)]).toEqual([3, 2, undefined, undefined])
  expect([table.hasRow(1), table.hasRow(3)]).toEqual([false, true])
})

test('a change set says how it is taken back', () => {
  const book = hives()
  const before = book.table('hives').column('frames').values()
  const change = book.apply({ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'frames', value: 3 }] })
  expect(change.inverse).toEqual([{ op: 'set-cells', table: 'hives', cells: [{ row: 1, column: 'frames', value: 10 }] }])
  book.apply(JSON.parse(JSON.stringify(change.inverse)))
  expect(book.table('hives').column('frames').values()).toEqual(before)
})
