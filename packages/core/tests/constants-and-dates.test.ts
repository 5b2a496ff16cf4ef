import { describe, expect, test } from 'vitest'
import { type Operation, Workbook } from '../src/index.js'

/** Weights that are named values, fits over dates, names that tallies share with columns, surroundings that change. */

function made(): Workbook {
  const book = new Workbook({ now: 0 })
  book.apply([
    {
      op: 'add-table',
      table: 't',
      columns: [
        { name: 'a', type: 'number' },
        { name: 'b', type: 'number' },
        { name: 'day', type: 'date' },
        { name: 'time', type: 'datetime' },
        { name: 'season', type: 'text' },
      ],
    },
    {
      op: 'insert-rows',
      table: 't',
      rows: [
        { a: 7, b: 0, day: '2026-05-01', time: '2026-05-01T00:00:00', season: 'istanbul' },
        { a: 1, b: 10, day: '2026-05-03', time: '2026-05-01T12:00:00', season: 'autumn' },
        { a: 4, b: 2, day: '2026-05-04', time: '2026-05-02T12:00:00', season: 'summer' },
      ],
    },
  ])
  return book
}

const values = (book: Workbook, name: string): unknown[] => book.table('t').column(name).values()
const add = (name: string, formula: string): Operation => ({ op: 'add-column', table: 't', column: { name, formula } })

describe('weights by named values', () => {
  test('count as the exact decimals they are, and are followed', () => {
    const book = made()
    book.apply([
      { op: 'set-value', name: 'wa', formula: '20%' },
      { op: 'set-value', name: 'wb', value: 0.8 },
      add('score', 'weighted(a at wa, b at wb)'),
      add('plain', 'weighted(a at 20%, b at 0.8)'),
    ])
    expect(values(book, 'score')).toEqual(values(book, 'plain'))
    const change = book.apply({ op: 'set-value', name: 'wb', value: 0.5 })
    expect(change.recalculated.map(({ column, rows }) => [column, rows])).toEqual([['score', 3]])
    book.apply(add('other', 'weighted(a at 20%, b at 50%)'))
    expect(values(book, 'score')).toEqual(values(book, 'other'))
    expect(book.check().some(({ code, column }) => code === 'weights-total' && column === 'score')).toBe(true)
    book.undo()
    book.undo()
    expect(values(book, 'score')).toEqual(values(book, 'plain'))
    expect(() => book.apply({ op: 'remove-value', name: 'wa' })).toThrow(/used by t.score/)
  })

  test.each(['a * 2', 'b', '1 / 3'])('that are no constants are refused: %s', (formula) => {
    const book = made()
    const value: Operation = formula === '1 / 3' ? { op: 'set-value', name: 'w', formula } : add('w', formula)
    book.apply(value)
    expect(() => book.apply(add('score', 'weighted(a at w, b at 50%)'))).toThrow(/a number, or a named value that is one/)
  })
})

describe('a fit over dates', () => {
  test('counts days from the smallest, of dates and of date-times', () => {
    const book = made()
    book.apply([
      add('days', 'days_between(@2026-05-01, day)'),
      ...[0, 1, 2].map((k) => add(`by_day_${k}`, `polynomial(a, day, 2, ${k})`)),
      ...[0, 1, 2].map((k) => add(`by_number_${k}`, `polynomial(a, days, 2, ${k})`)),
      add('hours', 'elapsed(@2026-05-01T00:00:00, time, "day")'),
      add('by_time', 'polynomial(a, time, 1, 1)'),
      add('by_hours', 'polynomial(a, hours, 1, 1)'),
    ])
    for (const k of [0, 1, 2]) expect(values(book, `by_day_${k}`)).toEqual(values(book, `by_number_${k}`))
    expect(values(book, 'by_time')).toEqual(values(book, 'by_hours'))
  })
})

test('a tally may have the name of the column that it totals, and of its table', () => {
  const book = made()
  book.apply([
    { op: 'set-tally', table: 't', name: 'a', formula: 'sum(a)' },
    { op: 'set-tally', table: 't', name: 't', formula: 'count()' },
    { op: 'set-tally', table: 't', name: 'mean_a', formula: 't.a / t.t' },
  ])
  expect([book.table('t').tally('a'), book.table('t').tally('mean_a')]).toEqual([12, 4])
  expect(() => book.apply({ op: 'set-tally', table: 't', name: 'b', formula: 't.b + 1' })).toThrow(/depend on itself/)
})

test('zone and language of a workbook can change; what goes by them follows', () => {
  const book = made()
  book.apply(add('large', 'upper(season)'))
  expect(values(book, 'large')[0]).toBe('ISTANBUL')
  const change = book.apply({ op: 'set-surroundings', locale: 'tr', zone: 'Europe/Oslo' })
  expect([values(book, 'large')[0], book.surroundings.zone]).toEqual(['İSTANBUL', 'Europe/Oslo'])
  expect(change.changed.map(({ column, rows }) => [column, rows])).toEqual([['large', 1]])
  book.apply({ op: 'insert-rows', table: 't', rows: [{ time: '2026-07-01T12:00:00Z' }] })
  expect(values(book, 'time')[3]).toBe('2026-07-01T14:00:00')
  book.undo()
  book.undo()
  expect([values(book, 'large')[0], book.surroundings.zone]).toEqual(['ISTANBUL', 'UTC'])
  for (const wrong of [{}, { zone: 'Mars' }, { locale: '!' }])
    expect(() => book.apply({ op: 'set-surroundings', ...wrong })).toThrow()
})

describe('what is said of a mistake is said once, with the way on', () => {
  const codes = (formula: string): string[] =>
    made()
      .previewColumn('t', { name: 'x', formula })
      .findings.map(({ code, message }) => `${code}: ${message}`)
  test.each<[string, string[]]>([
    [
      'yard.a + yard.b * yard.c',
      ["unexpected-qualifier: yard.a is no value of a row: table t has no link called yard. This table's own column is a."],
    ],
    ['season = summer', ["unknown-name: Table t has no column or value called summer. A text stands in quotes: 'summer'."]],
    ['sum(a, b)', ['rows-not-columns: sum goes over the rows of one column; over several columns of a row it is sum_of.']],
    ['sumn(a)', ['unknown-function: There is no function called sumn. Nearest name: sum.']],
    ['normalize_spaces(season)', ['former-name: normalize_spaces is called single_spaces now; both are understood for a while.']],
  ])('%s', (formula, expected) => expect(codes(formula)).toEqual(expected))

  test('in a tally too', () => {
    expect(() => made().apply({ op: 'set-tally', table: 't', name: 'n', formula: 'sumn(a)' })).toThrow(
      /^There is no function called sumn\. Nearest name: sum\.$/,
    )
  })
})

test('a text that grows from row to row is refused before memory is gone', () => {
  const book = new Workbook()
  book.apply([
    { op: 'add-table', table: 't', columns: [{ name: 'k', type: 'text' }] },
    { op: 'insert-rows', table: 't', block: { k: Array.from({ length: 30_000 }, (_, row) => `row ${row}`) } },
  ])
  for (const formula of ["(lag(path) ?? '') & k", 'repeat(k, 100000)'])
    expect(() => book.apply(add('path', formula))).toThrow('path would make more than half a gigabyte of text.')
  expect(book.table('t').columns.map(({ name }) => name)).toEqual(['k'])
  book.apply(add('path', "k & '!'"))
  expect(book.table('t').column('path').value(3)).toBe('row 2!')
}, 60_000)
