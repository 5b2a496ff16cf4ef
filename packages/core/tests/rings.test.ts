import fc from 'fast-check'
import { describe, expect, test } from 'vitest'
import { CellFault, type Operation, Refusal, Workbook } from '../src/index.js'

/** Columns that read their own earlier rows: running balances, and rings of several columns. */

type Row = {
  readonly site?: string | null
  readonly day?: number | null
  readonly filled?: number | null
  readonly sold?: number | null
}

function stock(rows: readonly Row[], formulas: Readonly<Record<string, string>>): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'jars',
      columns: [
        { name: 'site', type: 'text' },
        ...['day', 'filled', 'sold'].map((name) => ({ name, type: 'number' as const })),
        ...Object.entries(formulas).map(([name, formula]) => ({ name, formula })),
      ],
    },
    { op: 'insert-rows', table: 'jars', rows },
  ])
  return book
}

const values = (book: Workbook, column: string): unknown[] =>
  book
    .table('jars')
    .column(column)
    .values()
    .map((value) => (value instanceof CellFault ? `!${value.code}` : value))

const ROWS: Row[] = [
  { site: 'a', day: 3, filled: 10, sold: 1 },
  { site: 'b', day: 1, filled: 5, sold: 2 },
  { site: 'a', day: 1, filled: 20, sold: null },
  { site: 'b', day: 2, filled: 7, sold: 7 },
]

test.each<[string, Record<string, string>, string, unknown[]]>([
  ['a running balance', { on_hand: '(lag(on_hand) ?? 0) + filled - (sold ?? 0)' }, 'on_hand', [9, 12, 32, 32]],
  ['in an order', { on_hand: '(lag(on_hand order by day) ?? 0) + filled' }, 'on_hand', [42, 5, 25, 32]],
  ['by group, in an order', { on_hand: '(lag(on_hand by site order by day) ?? 0) + filled' }, 'on_hand', [30, 5, 20, 12]],
  ['two rows back', { x: '(lag(x, 2) ?? 1) * 2' }, 'x', [2, 2, 4, 4]],
  ['text', { trail: "join('-', lag(trail), site)" }, 'trail', ['a', 'a-b', 'a-b-a', 'a-b-a-b']],
  ['a blank goes on', { x: 'lag(x) + filled' }, 'x', [null, null, null, null]],
  ['an error goes on', { x: '(lag(x) ?? 0) + filled / (sold - 7)' }, 'x', [-10 / 6, -10 / 6 - 1, null, '!division-by-zero']],
  [
    'two columns, one reading the other of its own row',
    { open: 'lag(close) ?? 100', close: 'open - (sold ?? 0)' },
    'open',
    [100, 99, 97, 97],
  ],
  ['two columns in the other order', { close: 'open - (sold ?? 0)', open: 'lag(close) ?? 100' }, 'close', [99, 97, 97, 90]],
  ['what follows it', { x: '(lag(x) ?? 0) + 1', twice: 'x * 2', total: 'sum(x)' }, 'total', [10, 10, 10, 10]],
])('%s', (_, formulas, column, expected) => {
  expect(values(stock(ROWS, formulas), column)).toEqual(expected)
})

describe('a ring that is none is refused', () => {
  test.each<[Record<string, string>]>([
    [{ x: 'x + 1' }],
    [{ x: 'lag(x, 0) + 1' }],
    [{ x: 'lag(x, filled) + 1' }],
    [{ x: 'lead(x) + 1' }],
    [{ x: 'sum(x) + 1' }],
    [{ x: 'lag(x order by day) + lag(x)' }],
    [{ x: 'lag(y) + 1', y: 'lag(x by site) + 1' }],
    [{ x: 'y + lag(x)', y: 'x + 1' }],
    [{ x: '(lag(x order by x) ?? 0) + 1' }],
    [{ x: 'lag(y) + 1', y: 'sum(x)' }],
  ])('%j', (formulas) => {
    expect(() => stock(ROWS, formulas)).toThrow(Refusal)
    try {
      stock(ROWS, formulas)
    } catch (error) {
      expect((error as Refusal).code).toBe('cycle')
    }
  })
})

test('edits touch the rows from theirs on, and stop where nothing changes', () => {
  const rows = Array.from({ length: 50 }, (_, day) => ({ day, filled: 1, sold: day % 10 === 0 ? 0 : null }))
  const book = stock(rows, { since: 'if(sold is not blank, 0, (lag(since) ?? 0) + filled)' })
  const change = book.apply({ op: 'set-cells', table: 'jars', cells: [{ row: 24, column: 'filled', value: 5 }] })
  expect(change.changed.find((one) => one.column === 'since')?.rows).toBe(7)
  expect(change.recalculated[0]?.rows).toBe(8)
})

test('a ring can be taken apart, changed and brought back', () => {
  const book = stock(ROWS, { open: 'lag(close) ?? 100', close: 'open - (sold ?? 0)' })
  const before = [values(book, 'open'), values(book, 'close')]
  const change = (operation: Operation): unknown => book.apply(operation)
  change({ op: 'change-column', table: 'jars', column: 'open', set: { formula: '50' } })
  expect(values(book, 'close')).toEqual([49, 48, 50, 43])
  change({ op: 'change-column', table: 'jars', column: 'open', set: { formula: '(lag(close) ?? 10) + 1' } })
  expect(values(book, 'close')).toEqual([10, 9, 10, 4])
  change({ op: 'detach-column', table: 'jars', column: 'open' })
  change({ op: 'set-cells', table: 'jars', cells: [{ row: 1, column: 'open', value: 0 }] })
  expect(values(book, 'close')).toEqual([-1, 9, 10, 4])
  change({ op: 'rename-column', table: 'jars', column: 'close', to: 'left' })
  for (let step = 0; step < 5; step++) book.undo()
  expect([values(book, 'open'), values(book, 'close')]).toEqual(before)
})

const cell = fc.constantFrom(null, 0, 1, 2, -3, 0.1)
const row = fc.record({ site: fc.constantFrom('a', 'b', null), day: cell, filled: cell, sold: cell })
const edit = fc.oneof(
  fc.record({ at: fc.nat(20), column: fc.constantFrom('day', 'filled', 'sold'), value: cell }),
  fc.record({ at: fc.nat(20), rows: fc.array(row, { minLength: 1, maxLength: 2 }) }),
  fc.record({ at: fc.nat(20) }),
)

test('after random edits a ring holds what adding up from the first row gives', () => {
  const formulas = {
    plain: '(lag(plain) ?? 0) + (filled ?? 0)',
    grouped: 'if(sold = 2, 0, (lag(grouped by site order by day, filled) ?? 0) * 2 + (filled ?? 1))',
    open: 'lag(close, 2) ?? 5',
    close: 'open - (sold ?? 0)',
  }
  fc.assert(
    fc.property(fc.array(row, { maxLength: 8 }), fc.array(edit, { maxLength: 12 }), (rows, edits) => {
      const book = stock(rows, formulas)
      for (const one of edits) {
        const table = book.table('jars')
        const ids = table.rowIds()
        const id = ids[one.at % Math.max(1, ids.length)]
        if ('rows' in one)
          book.apply({ op: 'insert-rows', table: 'jars', rows: one.rows, ...(id !== undefined && { before: id }) })
        else if (id === undefined) continue
        else if ('column' in one)
          book.apply({ op: 'set-cells', table: 'jars', cells: [{ row: id, column: one.column, value: one.value }] })
        else book.apply({ op: 'remove-rows', table: 'jars', rows: [id] })
      }
      const now = book.table('jars')
      const sources = ['site', 'day', 'filled', 'sold'].map((name) => now.column(name).values())
      const again = stock(
        sources[0]?.map((_, index) => ({
          site: sources[0]?.[index] as string | null,
          day: sources[1]?.[index] as number | null,
          filled: sources[2]?.[index] as number | null,
          sold: sources[3]?.[index] as number | null,
        })) ?? [],
        formulas,
      )
      for (const name of Object.keys(formulas)) expect(values(book, name), name).toEqual(values(again, name))
      let total = 0
      const filled = sources[2] as (number | null)[]
      expect(values(book, 'plain')).toEqual(filled.map((value) => (total += value ?? 0)))
    }),
    { numRuns: Number(process.env.RUNS ?? 150) },
  )
})

test('a type that changes under a ring finds its types anew, and a refused one leaves it as it was', () => {
  const book = stock(ROWS, { x: 'filled + 2 * lag(x)', y: '(lag(y) ?? filled) ?? sold' })
  const before = [values(book, 'x'), values(book, 'y')]
  expect(() => book.apply({ op: 'change-column', table: 'jars', column: 'filled', set: { type: 'text' } })).toThrow(Refusal)
  expect([values(book, 'x'), values(book, 'y')]).toEqual(before)
  expect(book.table('jars').column('x').type).toBe('number')
  book.apply({ op: 'remove-column', table: 'jars', column: 'x' })
  book.apply({ op: 'change-column', table: 'jars', column: 'y', set: { formula: 'lag(y) ?? filled' } })
  book.apply({ op: 'change-column', table: 'jars', column: 'filled', set: { type: 'text' } })
  expect(book.table('jars').column('y').type).toBe('text')
  expect(values(book, 'y')).toEqual(['10', '10', '10', '10'])
})

test('a row whose group becomes an error shows it, though nothing else of the row has changed', () => {
  const book = stock(ROWS, { x: '(lag(x by 1 / sold) ?? 0) + filled' })
  expect(values(book, 'x')).toEqual([10, 5, 20, 7])
  book.apply({ op: 'set-cells', table: 'jars', cells: [{ row: 2, column: 'sold', value: 0 }] })
  expect(values(book, 'x')).toEqual([10, '!division-by-zero', 20, 7])
})

test('a column of a ring is paused, and makes the ring again when it is resumed', () => {
  const book = stock(ROWS, { open: 'lag(close) ?? 100', close: 'open - (sold ?? 0)' })
  const before = values(book, 'open')
  book.apply({ op: 'pause-column', table: 'jars', column: 'close' })
  book.apply({ op: 'set-cells', table: 'jars', cells: [{ row: 1, column: 'close', value: 7 }] })
  expect(values(book, 'open')).toEqual([100, 7, 97, 97])
  book.apply({ op: 'resume-column', table: 'jars', column: 'close', discard: 1 })
  expect(values(book, 'open')).toEqual(before)
  expect(() => book.apply({ op: 'change-column', table: 'jars', column: 'close', set: { formula: 'open + sum(open)' } })).toThrow(
    Refusal,
  )
  expect(values(book, 'open')).toEqual(before)
})

test('a refused type leaves a column that reads a ring as it was', () => {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 'yards',
      columns: [
        { name: 'area', type: 'number' },
        { name: 'kept', formula: 'if(area * 2 - 1 > 1, area * 2 - 1, lag(kept order by area))' },
        { name: 'before', formula: 'lag(kept)' },
      ],
    },
    { op: 'insert-rows', table: 'yards', rows: [{ area: 3 }, { area: 0 }, { area: 4 }] },
  ])
  const cells = book.table('yards').column('before').values()
  expect(() => book.apply({ op: 'change-column', table: 'yards', column: 'area', set: { type: 'text' } })).toThrow(Refusal)
  expect(book.table('yards').column('before').type).toBe('number')
  expect(book.table('yards').column('before').values()).toEqual(cells)
  book.apply({ op: 'move-rows', table: 'yards', rows: [3], before: 1 })
  expect(book.table('yards').column('before').values()).toEqual([null, 7, 5])
})
