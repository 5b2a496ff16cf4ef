import { describe, expect, test } from 'vitest'
import { type CellValue, type Operation, Refusal, Workbook } from '../src/index.js'
import { StoredBook } from './helpers/stored-book.js'

/** A stamp records when, or by whom, what it watches was filled, and is moved by nothing else. */

const stamp = (column: string, on: 'first-fill' | 'each-change', content: 'time' | 'author'): Operation[] => [
  { op: 'add-column', table: 'seen', column: { name: column } },
  { op: 'set-stamp', table: 'seen', column, stamp: { when: ['mites', 'note'], on, content } },
]
function seen(): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'seen',
      columns: [
        { name: 'hive', type: 'text' },
        { name: 'mites', type: 'number' },
        { name: 'note', type: 'text' },
      ],
    },
    { op: 'insert-rows', table: 'seen', rows: [{ hive: 'A', mites: 3 }, { hive: 'B' }, { hive: 'C' }] },
  ])
  book.apply([
    ...stamp('first', 'first-fill', 'time'),
    ...stamp('last', 'each-change', 'time'),
    ...stamp('who', 'each-change', 'author'),
  ])
  return book
}
const set = (row: number, column: string, value: CellValue): Operation => ({
  op: 'set-cells',
  table: 'seen',
  cells: [{ row, column, value }],
})
const at = (day: number): { at: string; author: string } => ({ at: `2026-03-0${day}T09:30:00`, author: `ada${day}` })
const cells = (book: Workbook, column: string): unknown[] =>
  book
    .table('seen')
    .column(column)
    .values()
    .map((value) => (typeof value === 'string' ? value.slice(0, 10) : value))

describe('what is stamped', () => {
  type Case = [string, (book: Workbook) => void, unknown[], unknown[], unknown[]]
  test.each<Case>([
    ['nothing so far', () => undefined, [null, null, null], [null, null, null], [null, null, null]],
    [
      'the first filling',
      (book) => book.apply(set(2, 'mites', 5), at(1)),
      [null, '2026-03-01', null],
      [null, '2026-03-01', null],
      [null, 'ada1', null],
    ],
    [
      'a later change moves the last stamp alone',
      (book) => {
        book.apply(set(2, 'mites', 5), at(1))
        book.apply(set(2, 'mites', 6), at(2))
      },
      [null, '2026-03-01', null],
      [null, '2026-03-02', null],
      [null, 'ada2', null],
    ],
    [
      'clearing and filling again does not move the first one',
      (book) => {
        book.apply(set(2, 'note', 'calm'), at(1))
        book.apply(set(2, 'note', null), at(2))
        book.apply(set(2, 'note', 'wild'), at(3))
      },
      [null, '2026-03-01', null],
      [null, '2026-03-03', null],
      [null, 'ada3', null],
    ],
    [
      'not what is written as it was',
      (book) => book.apply(set(1, 'mites', 3), at(1)),
      [null, null, null],
      [null, null, null],
      [null, null, null],
    ],
    [
      'not what it does not watch',
      (book) => book.apply(set(1, 'hive', 'Z'), at(1)),
      [null, null, null],
      [null, null, null],
      [null, null, null],
    ],
    [
      'new rows, where they are filled',
      (book) => book.apply({ op: 'insert-rows', table: 'seen', rows: [{ hive: 'D', mites: 1 }, { hive: 'E' }] }, at(1)),
      [null, null, null, '2026-03-01', null],
      [null, null, null, '2026-03-01', null],
      [null, null, null, 'ada1', null],
    ],
    [
      'rows that a new reading of the source adds or changes',
      (book) =>
        book.apply(
          { op: 'reread-rows', table: 'seen', key: ['hive'], block: { hive: ['A', 'B', 'F'], mites: [3, 9, 2] } },
          at(1),
        ),
      [null, '2026-03-01', '2026-03-01'],
      [null, '2026-03-01', '2026-03-01'],
      [null, 'ada1', 'ada1'],
    ],
    [
      'one call, however often it writes',
      (book) => book.apply([set(2, 'mites', 5), set(2, 'mites', null)], at(1)),
      [null, null, null],
      [null, null, null],
      [null, null, null],
    ],
  ])('%s', (_, act, first, last, who) => {
    const book = seen()
    const before = { first: cells(book, 'first'), last: cells(book, 'last') }
    const { revision } = book
    act(book)
    expect([cells(book, 'first'), cells(book, 'last'), cells(book, 'who')]).toEqual([first, last, who])
    for (let steps = book.revision - revision; steps > 0; steps--) book.undo()
    expect({ first: cells(book, 'first'), last: cells(book, 'last') }).toEqual(before)
  })
})

test('a replay has the stamps of the journal, and the time of day has no say in it', () => {
  const book = seen()
  const done = [
    book.apply(set(2, 'mites', 5), at(1)),
    book.apply({ op: 'insert-rows', table: 'seen', rows: [{ note: 'new' }] }, at(2)),
  ]
  const again = seen()
  for (const { operations } of done) again.apply(JSON.parse(JSON.stringify(operations)) as Operation[], at(9))
  for (const name of ['first', 'last', 'who']) expect(cells(again, name)).toEqual(cells(book, name))
})

test('a stamp is kept in a file, with what it watches', () => {
  const book = seen()
  book.apply(set(2, 'mites', 5), at(1))
  const stored = new StoredBook()
  stored.save(book)
  const opened = stored.open(book.steps)
  opened.apply(set(3, 'note', 'late'), at(4))
  expect(cells(opened, 'first')).toEqual([null, '2026-03-01', '2026-03-04'])
  opened.undo()
  opened.undo()
  expect(cells(opened, 'first')).toEqual([null, null, null])
})

describe('refused', () => {
  test.each<[string, Operation | Operation[], string]>([
    ['typing over it', set(1, 'first', '2026-01-01T00:00:00'), 'stamped-cell'],
    ['a new row that brings one', { op: 'insert-rows', table: 'seen', rows: [{ first: '2026-01-01T00:00:00' }] }, 'stamped-cell'],
    [
      'watching what is calculated',
      [
        { op: 'add-column', table: 'seen', column: { name: 'x', formula: 'mites * 2' } },
        { op: 'set-stamp', table: 'seen', column: 'first', stamp: { when: ['x'] } },
      ],
      'bad-operation',
    ],
    ['watching itself', { op: 'set-stamp', table: 'seen', column: 'first', stamp: { when: ['first'] } }, 'bad-operation'],
    ['a column of another type', { op: 'set-stamp', table: 'seen', column: 'mites', stamp: { when: ['note'] } }, 'bad-operation'],
    ['taking away what it watches', { op: 'remove-column', table: 'seen', column: 'note' }, 'column-in-use'],
  ])('%s', (_, operations, code) => {
    const book = seen()
    expect(() => book.apply(operations)).toThrow(expect.objectContaining({ name: 'Refusal', code }) as Error)
  })

  test('until it is detached', () => {
    const book = seen()
    book.apply(set(2, 'mites', 5), at(1))
    book.apply({ op: 'detach-column', table: 'seen', column: 'first' })
    book.apply(set(1, 'first', '2026-01-01T00:00:00'))
    expect(cells(book, 'first')).toEqual(['2026-01-01', '2026-03-01', null])
    book.apply(set(3, 'mites', 5), at(2))
    expect(cells(book, 'first')[2]).toBeNull()
    for (const _ of [1, 2, 3]) book.undo()
    expect(() => book.apply(set(1, 'first', null))).toThrow(Refusal)
  })
})
