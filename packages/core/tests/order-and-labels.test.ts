import { describe, expect, test } from 'vitest'
import { displayOf, type Operation, Workbook } from '../src/index.js'
import { StoredBook } from './helpers/stored-book.js'

/** Orders of their own, labels that name rows, calendars with an end, and how values are shown. */

function flows(): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'flows',
      columns: [
        { name: 'name', type: 'text' },
        { name: 'first_day', type: 'date' },
        { name: 'kg', type: 'number' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'flows',
      rows: [
        { name: 'heather', first_day: '2026-08-01', kg: 1 },
        { name: 'clover', first_day: '2026-06-01', kg: 2 },
        { name: 'willow', first_day: '2026-03-01', kg: 3 },
        { name: 'aster', kg: 4 },
        { kg: 5 },
        { name: 'clover', first_day: '2026-06-01', kg: 6 },
      ],
    },
  ])
  book.apply({ op: 'change-column', table: 'flows', column: 'name', set: { orderKey: 'first_day' } })
  return book
}
const sorted = (book: Workbook, order: string): unknown[] =>
  book
    .query({ table: 'flows', order, columns: ['name'] })
    .rows()
    .map(([name]) => name)
const messages = (book: Workbook, code: string): string[] =>
  book
    .check()
    .filter((one) => one.code === code)
    .map((one) => one.message)

describe('an order key', () => {
  test('orders rows and groups by the key of each value, those without one after, blanks last', () => {
    const book = flows()
    expect(sorted(book, 'name')).toEqual(['willow', 'clover', 'clover', 'heather', 'aster', null])
    expect(sorted(book, 'name desc')).toEqual(['aster', 'heather', 'clover', 'clover', 'willow', null])
    const groups = book
      .group({ table: 'flows', levels: [{ key: 'name' }], tallies: [{ name: 'all', formula: 'sum(kg)' }], flat: true })
      .rows()
    expect(groups).toEqual([
      ['willow', 3],
      ['clover', 8],
      ['heather', 1],
      ['aster', 4],
      [null, 5],
    ])
    book.apply({ op: 'change-column', table: 'flows', column: 'name', set: { orderKey: null } })
    expect(sorted(book, 'name')[0]).toBe('aster')
    book.undo()
    expect(sorted(book, 'name')[0]).toBe('willow')
  })

  test('is kept in a file and follows its column', () => {
    const book = flows()
    book.apply({ op: 'rename-column', table: 'flows', column: 'first_day', to: 'begins' })
    const stored = new StoredBook()
    stored.save(book)
    expect(sorted(stored.open(book.steps), 'name')[0]).toBe('willow')
  })

  test('of which a value has two is told at the edit that makes it so', () => {
    const book = flows()
    expect(messages(book, 'order-key-conflict')).toEqual([])
    const edit = { op: 'set-cells', table: 'flows', cells: [{ row: 6, column: 'first_day', value: '2026-02-01' }] }
    const change = book.applyJson(edit)
    expect(change.findings.added.map((one) => one.message)).toEqual([
      '"clover" of name has two order keys in first_day, 2026-02-01 and 2026-06-01; the first is taken.',
    ])
    expect(sorted(book, 'name')[0]).toBe('clover')
    expect(book.undo()?.findings.removed.map((one) => one.code)).toEqual(['order-key-conflict'])
  })
})

describe('a label', () => {
  const label = (column: string | null): Operation => ({ op: 'change-table', table: 'flows', set: { label: column } })

  test('that names no row, or several, is told', () => {
    const book = flows()
    const change = book.apply(label('name'))
    expect(change.findings.added.map((one) => `${one.severity} ${one.message}`)).toEqual([
      'hint No label on 1 row: name is blank there.',
      'hint 2 rows share their label with another row, such as "clover" in name.',
    ])
    book.apply({ op: 'set-cells', table: 'flows', cells: [{ row: 6, column: 'name', value: 'lime' }] })
    expect(messages(book, 'same-label')).toEqual([])
    expect(book.apply(label(null)).findings.removed.map((one) => one.code)).toEqual(['no-label'])
  })

  test('may be a formula', () => {
    const book = flows()
    book.apply([{ op: 'add-column', table: 'flows', column: { name: 'tag', formula: "name & ' ' & kg" } }, label('tag')])
    expect(messages(book, 'no-label')).toEqual([])
    expect(messages(book, 'same-label')).toEqual([])
  })
})

test('dates outside the calendar a formula takes its holidays from are told, with rows', () => {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'calendar',
      columns: [
        { name: 'day', type: 'date' },
        { name: 'holiday', type: 'text' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'calendar',
      rows: [{ day: '2026-01-01', holiday: 'New Year' }, { day: '2026-01-02' }, { day: '2026-01-05' }],
    },
    {
      op: 'add-table',
      table: 'batches',
      columns: [
        { name: 'a', type: 'date' },
        { name: 'b', type: 'date' },
        { name: 'wait', formula: 'workdays_between(a, b, every calendar.day where holiday is not blank)' },
        { name: 'listed', formula: 'workdays_between(a, b, every calendar.day)' },
      ],
    },
    {
      op: 'insert-rows',
      table: 'batches',
      rows: [
        { a: '2026-01-01', b: '2026-01-05' },
        { a: '2025-12-31', b: '2026-01-02' },
        { a: '2026-01-02', b: '2026-02-01' },
        {},
      ],
    },
  ])
  expect(
    book.check().flatMap(({ code, column, rows, message }) => (code === 'outside-calendar' ? [[column, rows, message]] : [])),
  ).toEqual([
    [
      'wait',
      2,
      'A date lies outside calendar on 2 rows; it goes from 2026-01-01 to 2026-01-05, and days beyond count as if they had no holidays.',
    ],
  ])
})

test.each<[string, Parameters<typeof displayOf>[0], string, number | string | boolean, string | null]>([
  ['as it is', { type: 'number', properties: {} }, 'en', 0.1, '0.1'],
  ['decimals, half away from zero', { type: 'number', properties: { decimals: 2 } }, 'en', 1.005, '1.01'],
  ['no decimals', { type: 'number', properties: { decimals: 0 } }, 'en', -2.5, '-3'],
  ['percent', { type: 'number', properties: { display: 'percent' } }, 'en', 0.125, '12.5%'],
  ['percent with decimals', { type: 'number', properties: { display: 'percent', decimals: 0 } }, 'en', 0.125, '13%'],
  ['money', { type: 'number', properties: { display: 'currency:EUR' } }, 'en', 1234.5, '€1,234.50'],
  ['money elsewhere', { type: 'number', properties: { display: 'currency:EUR' } }, 'de', 1234.5, '1.234,50\u00a0€'],
  ['money rounds as the language does', { type: 'number', properties: { display: 'currency:EUR' } }, 'en', 1.005, '€1.01'],
  ['money without cents', { type: 'number', properties: { display: 'currency:JPY' } }, 'en', 2.5, '¥3'],
  ['a pattern', { type: 'number', properties: { display: '#,##0.00' } }, 'de', 1234.5, '1.234,50'],
  ['a date pattern', { type: 'date', properties: { display: 'd MMM y' } }, 'en', 0, '1 Jan 1970'],
  ['a date-time pattern', { type: 'datetime', properties: { display: 'HH:mm' } }, 'en', 34_200_000, '09:30'],
  ['text', { type: 'text', properties: {} }, 'en', '007', '007'],
  ['no such currency', { type: 'number', properties: { display: 'currency:euro' } }, 'en', 1, null],
  ['a date pattern for numbers', { type: 'number', properties: { display: 'dd/MM' } }, 'en', 1, null],
  ['a number pattern for dates', { type: 'date', properties: { display: '0.0' } }, 'en', 1, null],
  ['any for texts', { type: 'text', properties: { display: '0.0' } }, 'en', 'x', null],
])('shown: %s', (_, column, locale, value, text) => {
  expect(displayOf(column, locale)?.(value) ?? null).toBe(text)
})

test('a way to show values that there is not is refused, and changes nothing', () => {
  const book = flows()
  const set = (column: string, changes: object): Operation => ({ op: 'change-column', table: 'flows', column, set: changes })
  expect(() => book.apply(set('kg', { display: 'dd/MM', unit: 'kg' }))).toThrow('shows no values of type number')
  expect(book.table('flows').column('kg').properties).toEqual({})
  book.apply(set('kg', { display: '0.0' }))
  expect(() => book.apply(set('kg', { type: 'text' }))).toThrow('shows no values of type text')
})

test('a score tells how complete its parts are', () => {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'seen',
      columns: [
        { name: 'brood', type: 'number' },
        { name: 'stores', type: 'number' },
        { name: 'score', formula: 'weighted(brood at 60%, stores at 40%)' },
        { name: 'plain', formula: 'brood + stores' },
      ],
    },
    { op: 'insert-rows', table: 'seen', rows: [{ brood: 1, stores: 2 }, { brood: 1 }, {}, { stores: 0 }, { brood: 2 }] },
  ])
  expect(book.table('seen').column('score').completeness()).toEqual({
    complete: 1,
    withBlanks: 4,
    blanks: [
      { column: 'stores', rows: 3 },
      { column: 'brood', rows: 2 },
    ],
  })
  expect(book.table('seen').column('plain').completeness()).toBeNull()
})
