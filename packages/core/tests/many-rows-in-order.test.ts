import fc from 'fast-check'
import { CellFault, type OperationJson, Workbook } from 'mellow-abacus'
import { expect, test } from 'vitest'

/**
 * Functions that look at neighbours, over more rows than are computed group by group: all groups are put in order at once. What they
 * give must be what they give where an edit has groups computed one by one.
 */
const ROWS = 1500

const FUNCTIONS = [
  'lag(kg BY ORDER)',
  'lead(grade, 2 BY ORDER)',
  'row_number(BY ORDER)',
  'rank(kg BY)',
  'rank(grade BY desc)',
  'dense_rank(day BY)',
  'cumulative_sum(kg BY ORDER)',
  'cumulative_max(lot BY ORDER)',
  'moving_mean(kg, 3 BY ORDER)',
  'difference(lot BY ORDER)',
]
const GROUPS = ['hive', 'hive, grade', 'lot > 1', '12 / lot', 'kg / 0']
const ORDERS = ['kg', 'kg desc', 'grade, kg desc', 'day desc, grade', '1 / kg', 'lot']

const formula = fc
  .tuple(fc.constantFrom(...FUNCTIONS), fc.constantFrom(...GROUPS), fc.option(fc.constantFrom(...ORDERS)))
  .map(([call, by, order]) => call.replace('BY', `by ${by}`).replace('ORDER', order === null ? '' : `order by ${order}`))

const row = fc.record({
  hive: fc.constantFrom('A', 'B', 'C', 'Ä', 'D-10', null),
  grade: fc.constantFrom('a', 'b', 'B', '', null),
  kg: fc.constantFrom(null, 0, 1, 2.5, -0.1, 1e-3, 40, { misfit: 'some' }),
  lot: fc.constantFrom(0, 1, 2, 3, null),
  day: fc.constantFrom('2026-03-01', '2026-03-04', '1999-12-31', null),
})

function bookWith(operations: readonly OperationJson[]): Workbook {
  const book = new Workbook()
  const types = { hive: 'text', grade: 'text', kg: 'number', lot: 'integer', day: 'date' }
  const columns = Object.entries(types).map(([name, type]) => ({ name, type }))
  book.applyJson([{ op: 'add-table', table: 'takes', columns }, ...operations])
  return book
}

const cellsOf = (book: Workbook): unknown[] =>
  book
    .table('takes')
    .column('x')
    .values()
    .map((cell) => (cell instanceof CellFault ? `!${cell.code}` : cell))

/** Rows as they are given. */
interface Given {
  readonly hive: string | null
  readonly grade: unknown
  readonly kg: unknown
  readonly lot: unknown
  readonly day: unknown
}

/** What no row has. */
const OTHERS = { grade: 'z', kg: 77, lot: 9, day: '2030-01-01' }

/** Few different rows, many times over: groups of a few rows by hive, and large ones by anything else. */
function rowsLike(rows: readonly Given[], from: number, to: number): Given[] {
  return Array.from({ length: to - from }, (_, at) => {
    const one = rows[((from + at) * 7919) % rows.length] as Given
    return one.hive === 'A' || one.hive === null ? one : { ...one, hive: `${one.hive}${at % 40}` }
  })
}

const rowsOf = (rows: readonly Given[], from: number, to: number): OperationJson => {
  return { op: 'insert-rows', table: 'takes', rows: rowsLike(rows, from, to) } as unknown as OperationJson
}

test('all groups at once are what each of them is by itself', () => {
  fc.assert(
    fc.property(fc.array(row, { minLength: 5, maxLength: 40 }), formula, (rows, text) => {
      const column: OperationJson = { op: 'add-column', table: 'takes', column: { name: 'x', formula: text } }
      const book = bookWith([rowsOf(rows, 0, ROWS), column])
      const atOnce = cellsOf(book)
      // A cell that becomes another has its group computed alone, and once more when it is as before.
      for (const [at, given] of rowsLike(rows, 0, rows.length).entries()) {
        for (const values of [OTHERS, given]) {
          const columns = Object.keys(OTHERS) as (keyof typeof OTHERS)[]
          const cells = columns.map((name) => ({ row: at + 1, column: name, value: values[name] }))
          book.applyJson({ op: 'set-cells', table: 'takes', cells } as unknown as OperationJson)
        }
      }
      expect(cellsOf(book)).toEqual(atOnce)
    }),
    { numRuns: 40 },
  )
})

test('rows that others take the places of are put in order all the same', () => {
  const rows = [
    { hive: 'A', grade: 'a', kg: 1, lot: 1, day: null },
    { hive: 'B', grade: 'b', kg: 2, lot: 2, day: null },
  ]
  const book = bookWith([rowsOf(rows, 0, ROWS)])
  book.applyJson({ op: 'remove-rows', table: 'takes', rows: [1, 2, 3] })
  book.applyJson({ op: 'insert-rows', table: 'takes', rows: [{ hive: 'A', kg: 0.5 }], before: 4 })
  book.applyJson({ op: 'add-column', table: 'takes', column: { name: 'x', formula: 'row_number(by hive)' } })
  const hives = book.table('takes').column('hive').values()
  const seen = new Map<unknown, number>()
  const expected = hives.map((hive) => {
    seen.set(hive, (seen.get(hive) ?? 0) + 1)
    return seen.get(hive)
  })
  expect(cellsOf(book)).toEqual(expected)
})
