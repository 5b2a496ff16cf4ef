import { describe, expect, test } from 'vitest'
import { type ApplyOptions, type Operation, type Query, Refusal, Workbook } from '../src/index.js'
import { Column } from '../src/storage.js'

/** What comes from outside is checked as it comes in: each of these is refused, names the place, and changes nothing. */

function made(): Workbook {
  const book = new Workbook({ now: 0 })
  book.apply([
    {
      op: 'add-table',
      table: 't',
      columns: [
        { name: 'a', type: 'number' },
        { name: 'b', type: 'text' },
      ],
    },
    { op: 'insert-rows', table: 't', rows: [{ a: 1, b: 'x' }] },
  ])
  return book
}

/** What a call is refused with; the workbook is held to be as it was. */
function refusalOf(call: (book: Workbook) => unknown): string {
  const book = made()
  const before = JSON.stringify([book.revision, book.table('t').rowIds(), book.query({ table: 't' }).rows()])
  try {
    call(book)
  } catch (error) {
    if (!(error instanceof Refusal)) throw error
    expect(JSON.stringify([book.revision, book.table('t').rowIds(), book.query({ table: 't' }).rows()])).toBe(before)
    // What was refused has used up no id either.
    book.apply([{ op: 'insert-rows', table: 't', rows: [{}] }])
    expect(book.table('t').rowIds()).toEqual([1, 2])
    return error.message
  }
  throw new Error('was not refused')
}

class CopyOfColumn {}
Object.defineProperty(CopyOfColumn, 'name', { value: 'Column' })

const typed = JSON.parse(JSON.stringify({ a: Float64Array.of(1, 2) })) as unknown
const half = '\ud800'

describe('blocks and rows that are none', () => {
  test.each<[string, unknown, RegExp]>([
    ['a typed array after JSON', { block: typed }, /block\.a: .*expected a list of values.*received an object/],
    ['a set', { block: { a: new Set([1]) } }, /block\.a: .*received a Set/],
    ['a set in place of the block', { block: new Set([1]) }, /block: .*received a Set/],
    ['a list in place of the block', { block: [1] }, /block: .*received a list/],
    ['a number', { block: 7 }, /field block: .*received a number/],
    ['null for a column', { block: { a: null } }, /block\.a: .*received null/],
    ['a text for a column', { block: { a: 'abc' } }, /block\.a: .*received a string/],
    ['something of a length', { block: { a: { length: 1e9 } } }, /block\.a: /],
    ['the place of cells in a file', { block: { a: { $cells: 0 } } }, /block\.a: /],
    ['a column of another copy', { block: { a: new CopyOfColumn() } }, /block\.a: .*another copy of the library/],
    ['big whole numbers', { block: { a: BigInt64Array.of(1n) } }, /block\.a: /],
    ['rows that are maps', { rows: [new Map([['a', 1]])] }, /rows\.0: .*received a Map/],
    ['rows that are lists', { rows: [[1, 2]] }, /rows\.0: .*received a list/],
    ['a cell that is an object', { rows: [{ a: {} }] }, /t\.a, row 1/],
    ['a cell that is no number', { rows: [{ a: Number.NaN }] }, /NaN/],
    ['more rows than can be', { count: 3e9 }, /field count: one operation makes at most 20,000,000 rows/],
    ['a run of more rows than can be', { ids: { first: 1, count: 3e9 } }, /field ids/],
    ['ids beyond what is counted', { rows: [{}], ids: [2 ** 53] }, /field ids/],
    ['an id that leaves none after it', { rows: [{}], ids: [2 ** 53 - 1] }, /expected ids up to/],
    ['a field nobody knows', { rows: [{}], befor: 1 }, /field befor: there is no such field/],
    ['half of a character', { rows: [{ b: `x${half}` }] }, /half of a character/],
    ['half of a character in a misfit', { rows: [{ a: { misfit: half } }] }, /half of a character/],
    ['half of a character in a block', { block: { b: [half] } }, /half of a character/],
  ])('%s', (_, fields, message) => {
    expect(refusalOf((book) => book.apply({ op: 'insert-rows', table: 't', ...(fields as object) }))).toMatch(message)
  })

  test('finished storage with half of a character', () => {
    const column = new Column('text')
    column.occupy(0)
    column.write(0, half)
    expect(refusalOf((book) => book.apply({ op: 'insert-rows', table: 't', block: { b: column } }))).toMatch(
      /half of a character/,
    )
  })
})

describe('calls that are none', () => {
  test.each<[string, unknown, RegExp]>([
    ['nothing', undefined, /the operations: .*received undefined/],
    ['null', null, /the operations: .*received null/],
    ['a text', 'add-table', /received string/],
    ['a list in a list', [[{ op: 'tick' }]], /operation 1 of the call: .*received a list/],
    ['an operation without a name', [{}], /there is no such operation/],
    ['a name with half of a character', { op: 'add-table', table: half }, /half of a character/],
    [
      'a note with half of a character',
      { op: 'change-column', table: 't', column: 'a', set: { note: half } },
      /half of a character/,
    ],
    [
      'a column id that leaves none after it',
      { op: 'add-column', table: 't', column: { name: 'c', id: 2 ** 53 - 2 } },
      /field id/,
    ],
    ['a column id that is taken', { op: 'add-column', table: 't', column: { name: 'c', id: 1 } }, /field id: there is a column/],
    ['a value with an id that is taken', { op: 'set-value', name: 'v', value: 1, id: 1 }, /field id: there is a column/],
    ['a rule with an id that is taken', { op: 'set-rule', table: 't', name: 'r', condition: 'a > 0', id: 2 }, /field id/],
    [
      'a stamp that watches columns of nobody',
      { op: 'add-column', table: 't', column: { name: 's', stamp: { when: [99], on: 'first-fill', content: 'time' } } },
      /no column with id 99/,
    ],
    [
      'reading options that are no JSON',
      { op: 'change-table', table: 't', set: { source: { file: 'x', options: { f: () => 1 } } } },
      /plain JSON/,
    ],
    ['a clock that is no time', { op: 'tick', now: 'soon' }, /field now/],
    ['a clock beyond all years', { op: 'tick', now: '0001-01-01T00:00:00+14:00' }, /field now/],
    ['a seed that is none', { op: 'tick', seed: 1e300 }, /field seed/],
  ])('%s', (_, operations, message) => {
    expect(refusalOf((book) => book.apply(operations as Operation))).toMatch(message)
  })

  test.each<[string, unknown, RegExp]>([
    ['a time that is none', { at: 'not a date' }, /field at/],
    ['an author that is no text', { author: 5 }, /field author/],
    ['a revision that is none', { expects: '1' }, /field expects/],
    ['a field nobody knows', { expect: 1 }, /field expect: there is no such field/],
    ['no options at all', null, /the options of the call/],
  ])('options with %s', (_, options, message) => {
    expect(refusalOf((book) => book.apply({ op: 'set-value', name: 'v', value: 1 }, options as ApplyOptions))).toMatch(message)
  })

  test.each<[string, object, RegExp]>([
    ['a field nobody knows', { wher: 'a > 1' }, /the query, field wher: there is no such field/],
    ['a negative limit', { limit: -1 }, /field limit/],
    ['a limit that is no whole number', { limit: 1.5 }, /field limit/],
    ['an order that is none', { order: 5 }, /field order/],
    ['columns that are no list', { columns: 'a' }, /field columns/],
  ])('a query with %s', (_, fields, message) => {
    expect(refusalOf((book) => book.query({ table: 't', ...fields } as Query))).toMatch(message)
    expect(refusalOf((book) => book.group({ table: 't', levels: [], tallies: [], ...fields } as never))).toMatch(/field/)
  })
})

describe('a workbook', () => {
  test.each<[string, object, RegExp]>([
    ['a zone that there is not', { zone: 'Mars/Olympus' }, /field zone: there is no time zone "Mars\/Olympus"/],
    ['a language that there is not', { locale: 'no such tag' }, /field locale/],
    ['a clock beyond all years', { now: 1e300 }, /field now/],
    ['a clock that is no time', { now: '2026-02-30' }, /field now: expected ISO 8601 text such as .*, received "2026-02-30"/],
    ['a clock that is neither', { now: true }, /field now: expected ISO 8601 text/],
    ['a field nobody knows', { timezone: 'UTC' }, /field timezone: there is no such field/],
  ])('with %s is refused', (_, surroundings, message) => {
    expect(() => new Workbook(surroundings as never)).toThrow(message)
  })

  test('has the clock of the machine, in its zone, unless given', () => {
    const wall = (zone: string): string =>
      new Intl.DateTimeFormat('sv', { timeZone: zone, dateStyle: 'short', timeStyle: 'short' }).format(Date.now())
    for (const zone of ['UTC', 'Asia/Kathmandu']) {
      const { now } = new Workbook({ zone }).surroundings
      expect(Math.abs(now - Date.parse(`${wall(zone).replace(' ', 'T')}Z`))).toBeLessThan(120_000)
    }
    expect(new Workbook({ now: 0 }).surroundings.now).toBe(0)
    const noon = Date.UTC(2026, 2, 14, 12)
    for (const now of ['2026-03-14T12:00:00', '2026-03-14T11:00:00Z', noon])
      expect(new Workbook({ now, zone: 'Europe/Oslo' }).surroundings.now).toBe(noon)
  })
})

test('what was refused leaves no trace in a workbook that then goes on', () => {
  const book = made()
  expect(() =>
    book.apply([
      { op: 'insert-rows', table: 't', rows: [{ a: 2 }] },
      { op: 'insert-rows', table: 't', block: { a: null } } as never,
    ]),
  ).toThrow()
  expect(book.apply({ op: 'insert-rows', table: 't', rows: [{ a: 2 }] }).inserted[0]?.ids).toEqual([2])
})

describe('a refusal says which operation it is about', () => {
  const table = { op: 'add-table', table: 'hives', columns: [{ name: 'boxes', type: 'number' }] } as const
  const good = { op: 'add-column', table: 'hives', column: { name: 'frames', formula: 'boxes * 11' } } as const
  test.each<[string, Operation]>([
    ['a column', { op: 'add-column', table: 'hives', column: { name: 'x', formula: 'boxs + 1' } }],
    ['a changed column', { op: 'change-column', table: 'Hives', column: 'Frames', set: { formula: 'frames + 1' } }],
    ['a value', { op: 'set-value', name: 'limit', formula: 'nothing + 1' }],
    ['a tally', { op: 'set-tally', table: 'hives', name: 'total', formula: 'sum(boxs)' }],
    ['cells', { op: 'set-cells', table: 'hives', cells: [{ row: 99, column: 'boxes', value: 1 }] }],
  ])('%s', (_, bad) => {
    const book = new Workbook()
    try {
      book.apply([table, bad.op === 'change-column' ? good : { op: 'set-value', name: 'v', value: 1 }, bad])
      expect.unreachable()
    } catch (error) {
      expect((error as Refusal).operation).toEqual(bad)
    }
    expect(book.revision).toBe(0)
  })
})
