import fc from 'fast-check'
import { expect, test } from 'vitest'
import { type ChangeSet, type Operation, Workbook } from '../src/index.js'

/** How many cells an edit computes: those it can reach, not those of the table. */

const ROWS = 50

function bookOf(formula: string): Workbook {
  const book = new Workbook()
  book.apply([
    { op: 'add-table', table: 't', columns: [{ name: 'x', type: 'number' }] },
    { op: 'insert-rows', table: 't', block: { x: Array.from({ length: ROWS }, (_, index) => index * index) } },
    { op: 'add-column', table: 't', column: { name: 'y', formula } },
  ])
  return book
}

const removed = (...rows: number[]): Operation => ({ op: 'remove-rows', table: 't', rows })
const inserted = (before?: number): Operation => ({
  op: 'insert-rows',
  table: 't',
  rows: [{ x: -1 }],
  ...(before && { before }),
})

test.each<[string, Operation | Operation[], number]>([
  ['lag(x)', removed(20), 3],
  ['lag(x)', removed(20, 21, 22), 3],
  ['lag(x)', [removed(20), removed(21)], 3],
  ['lag(x)', removed(1), 2],
  ['lead(x)', removed(ROWS), 1],
  ['difference(x)', removed(10, 30), 6],
  ['moving_sum(x, 3)', removed(20), 5],
  ['lag(x)', inserted(20), 3],
  ['lag(x)', [inserted(20), removed(20)], 3],
  ['row_number()', removed(20), ROWS - 1],
  ['cumulative_sum(x)', removed(20), ROWS - 1],
])('%s after %j: at most %i rows are computed, and rightly', (formula, operations, most) => {
  const book = bookOf(formula)
  const change = book.apply(operations)
  expect(computed(change, 'y')).toBeLessThanOrEqual(most)
  const fresh = new Workbook()
  fresh.applyJson([
    { op: 'add-table', table: 't', columns: [{ name: 'x', type: 'number' }] },
    { op: 'insert-rows', table: 't', block: { x: book.table('t').column('x').values() } },
    { op: 'add-column', table: 't', column: { name: 'y', formula } },
  ])
  expect(book.table('t').column('y').values()).toEqual(fresh.table('t').column('y').values())
})

function computed({ recalculated }: ChangeSet, column: string): number {
  return recalculated.find((one) => one.column === column)?.rows ?? 0
}

test('an edit of a day is computed for the visits around it alone', () => {
  const day = fc.integer({ min: 1, max: 60 })
  const visit = fc.record({ since: fc.option(day), until: fc.option(day) })
  fc.assert(
    fc.property(
      fc.array(visit, { minLength: 1, maxLength: 80 }),
      fc.array(fc.tuple(fc.nat(), visit), { maxLength: 8 }),
      fc.array(fc.tuple(day, fc.integer({ min: -9, max: -1 })), { minLength: 1, maxLength: 6 }),
      (visits, moved, edits) => {
        const book = new Workbook()
        book.apply([
          { op: 'add-table', table: 'days', columns: ['day', 'rain'].map((name) => ({ name, type: 'number' as const })) },
          { op: 'add-table', table: 'visits', columns: ['since', 'until'].map((name) => ({ name, type: 'number' as const })) },
          { op: 'insert-rows', table: 'days', rows: Array.from({ length: 60 }, (_, at) => ({ day: at + 1, rain: at % 7 })) },
          { op: 'insert-rows', table: 'visits', rows: visits },
          {
            op: 'add-column',
            table: 'visits',
            column: { name: 'rain', formula: 'sum(every days.rain where day > this.since and day <= this.until)' },
          },
        ])
        const edit = (at: number, rain: number): ChangeSet =>
          book.apply({ op: 'set-cells', table: 'days', cells: [{ row: at, column: 'rain', value: rain }] })
        // The first one has the visits put in order; some change their bounds afterwards.
        edit(30, 1.5)
        const now = [...visits]
        for (const [at, bounds] of moved) {
          const row = at % visits.length
          now[row] = bounds
          const cells = Object.entries(bounds).map(([column, value]) => ({ row: row + 1, column, value }))
          book.apply({ op: 'set-cells', table: 'visits', cells })
        }
        for (const [at, rain] of edits) {
          const readers = now.filter(({ since, until }) => since !== null && until !== null && at > since && at <= until)
          const isOther = book.table('days').column('rain').values()[at - 1] !== rain
          expect(computed(edit(at, rain), 'rain')).toBe(isOther ? readers.length : 0)
        }
        const rains = book.table('days').column('rain').values() as number[]
        const wanted = now.map(({ since, until }) => {
          const taken = since === null || until === null ? [] : rains.slice(since, until)
          return taken.length === 0 ? null : taken.reduce((sum, one) => sum + one, 0)
        })
        expect(book.table('visits').column('rain').values()).toEqual(wanted)
      },
    ),
    { numRuns: 80 },
  )
})

test('a row of many is put in its place in a sorted index', () => {
  const book = new Workbook()
  book.apply([
    { op: 'add-table', table: 'takes', columns: ['day', 'kg'].map((name) => ({ name, type: 'number' as const })) },
    { op: 'add-table', table: 'days', columns: [{ name: 'day', type: 'number' }] },
    { op: 'insert-rows', table: 'takes', block: { day: [5, 3, 3, 9, 1], kg: [1, 2, 4, 8, 16] } },
    { op: 'insert-rows', table: 'days', block: { day: [0, 3, 6, 9] } },
    ...[
      'sum(every takes.kg where day <= this.day)',
      'max(every takes.kg where day < this.day)',
      'count(every takes where day = this.day)',
    ].map((formula, index) => ({ op: 'add-column' as const, table: 'days', column: { name: `c${index}`, formula } })),
  ])
  const columns = (): unknown[] => ['c0', 'c1', 'c2'].map((name) => book.table('days').column(name).values())
  expect(columns()).toEqual([
    [null, 22, 23, 31],
    [null, 16, 16, 16],
    [0, 2, 0, 1],
  ])
  book.apply({ op: 'set-cells', table: 'takes', cells: [{ row: 5, column: 'day', value: 7 }] })
  expect(columns()).toEqual([
    [null, 6, 7, 31],
    [null, null, 4, 16],
    [0, 2, 0, 1],
  ])
  book.apply({
    op: 'insert-rows',
    table: 'takes',
    rows: [
      { day: 0, kg: 32 },
      { day: null, kg: 64 },
    ],
  })
  expect(columns()).toEqual([
    [32, 38, 39, 63],
    [null, 32, 32, 32],
    [1, 2, 0, 1],
  ])
  book.apply({ op: 'remove-rows', table: 'takes', rows: [2, 6] })
  expect(columns()).toEqual([
    [null, 4, 5, 29],
    [null, null, 4, 16],
    [0, 1, 0, 1],
  ])
})
