import { describe, expect, test } from 'vitest'
import { CellFault, Workbook } from '../src/index.js'
import { BLOCK_ROWS } from '../src/storage.js'

/** Tables that reach over several blocks, where rows come, go and change on both sides of a border. */

const COUNT = BLOCK_ROWS * 2 + 100

function largeBook(): Workbook {
  const book = new Workbook()
  book.apply([
    {
      op: 'add-table',
      table: 't',
      columns: [
        { name: 'n', type: 'number' },
        { name: 's', type: 'text' },
      ],
    },
    {
      op: 'insert-rows',
      table: 't',
      block: {
        n: Array.from({ length: COUNT }, (_, index) => (index % 7 === 0 ? null : index)),
        s: Array.from({ length: COUNT }, (_, index) => `r${index % 10}`),
      },
    },
    { op: 'add-column', table: 't', column: { name: 'half', formula: 'n / 2' } },
    {
      op: 'add-column',
      table: 't',
      column: { name: 'tag', formula: "case when n is blank then 'none' when n < 5000 then s & '-low' else s & '-high' end" },
    },
  ])
  return book
}

const tag = (book: Workbook, id: number): unknown => book.table('t').column('tag').value(id)

describe('several blocks', () => {
  test('every row has its values', () => {
    const book = largeBook()
    const { values } = { values: book.table('t').column('half').values() }
    expect(values).toHaveLength(COUNT)
    expect(values.filter((value) => value === null)).toHaveLength(Math.ceil(COUNT / 7))
    for (const index of [1, BLOCK_ROWS - 1, BLOCK_ROWS, BLOCK_ROWS + 1, COUNT - 1])
      expect(values[index]).toBe(index % 7 === 0 ? null : index / 2)
    expect([tag(book, 1), tag(book, 2), tag(book, COUNT)]).toEqual(['none', 'r1-low', `r${(COUNT - 1) % 10}-high`])
  })

  test('edits on both sides of a border touch their rows alone', () => {
    const book = largeBook()
    const cells = [BLOCK_ROWS, BLOCK_ROWS + 1, COUNT].map((row) => ({ row, column: 'n', value: 9000 }))
    const change = book.apply({ op: 'set-cells', table: 't', cells })
    expect(change.recalculated.map((one) => [one.column, one.rows, [...one.ids()]])).toEqual(
      expect.arrayContaining([
        ['half', 3, [BLOCK_ROWS, BLOCK_ROWS + 1, COUNT]],
        ['tag', 3, [BLOCK_ROWS, BLOCK_ROWS + 1, COUNT]],
      ]),
    )
    expect(tag(book, BLOCK_ROWS)).toBe(`r${(BLOCK_ROWS - 1) % 10}-high`)
  })

  test('a whole block can go and come back', () => {
    const book = largeBook()
    const ids = Array.from({ length: BLOCK_ROWS }, (_, index) => BLOCK_ROWS + 1 + index)
    const before = book.table('t').columns.map((column) => column.values())
    book.apply({ op: 'remove-rows', table: 't', rows: ids })
    expect(book.table('t').rowCount).toBe(COUNT - BLOCK_ROWS)
    expect(book.table('t').column('half').summary().rows).toBe(COUNT - BLOCK_ROWS)
    expect(book.query({ table: 't', where: "tag = 'none'" }).matched).toBe(
      before[3]?.filter((value, index) => value === 'none' && (index < BLOCK_ROWS || index >= BLOCK_ROWS * 2)).length,
    )
    book.undo()
    expect(book.table('t').columns.map((column) => column.values())).toEqual(before)
    expect(book.table('t').rowIds()).toEqual(Array.from({ length: COUNT }, (_, index) => index + 1))
  })

  test('a new formula goes over all of them, and a preview finds its sample rows anywhere', () => {
    const book = largeBook()
    const preview = book.previewColumn('t', {
      name: 'x',
      formula: `case when n = ${COUNT - 1} then 'last' when n > 1 then 'some' else 'rest' end`,
    })
    expect(preview.rows.map(({ row, result }) => [row, result])).toEqual(
      expect.arrayContaining([
        [COUNT, 'last'],
        [3, 'some'],
        [1, 'rest'],
      ]),
    )
    expect(preview.findings).toMatchObject([{ code: 'blank-falls-through', rows: Math.ceil(COUNT / 7) }])
    const change = book.apply({ op: 'change-column', table: 't', column: 'half', set: { formula: 'n / 4' } })
    expect(change.recalculated).toEqual([{ table: 't', column: 'half', rows: COUNT }])
    expect(change.changed[0]?.rows).toBe(COUNT - Math.ceil(COUNT / 7))
  })
})

test('two workbooks share nothing', () => {
  const [one, other] = [largeBook(), largeBook()]
  one.apply({ op: 'set-cells', table: 't', cells: [{ row: 2, column: 'n', value: 1e6 }] })
  expect([tag(one, 2), tag(other, 2)]).toEqual(['r1-high', 'r1-low'])
  expect([one.revision, other.revision]).toEqual([2, 1])
})

// 1986 rows were a block whose statuses could not be or-ed four at a time.
test.each([1, 3, 33, 35, 1986, BLOCK_ROWS - 1, BLOCK_ROWS + 1, BLOCK_ROWS * 2 + 3])(
  '%i rows, whatever that leaves of a block',
  (count) => {
    const book = new Workbook()
    const n = Array.from({ length: count }, (_, index) => (index % 5 === 0 ? null : (index % 11) - 4))
    const m = Array.from({ length: count }, (_, index) => (index % 7 === 0 ? null : index % 3))
    book.apply([
      { op: 'add-table', table: 't', columns: ['n', 'm'].map((name) => ({ name, type: 'number' })) },
      { op: 'insert-rows', table: 't', block: { n, m } },
      { op: 'add-column', table: 't', column: { name: 'sum', formula: 'n * 2 + m - 1' } },
      {
        op: 'add-column',
        table: 't',
        column: { name: 'choice', formula: 'case when n > 2 then n / m when m < 1 then -n else m end' },
      },
    ])
    const shown = (column: string): unknown[] =>
      book
        .table('t')
        .column(column)
        .values()
        .map((value) => (value instanceof CellFault ? value.code : value))
    expect(shown('sum')).toEqual(n.map((x, row) => (x === null || m[row] === null ? null : x * 2 + (m[row] as number) - 1)))
    const fallen: number[] = []
    expect(shown('choice')).toEqual(
      n.map((x, row) => {
        const y = m[row] ?? null
        if (x !== null && x > 2) return y === null ? null : y === 0 ? 'division-by-zero' : x / y
        if (y !== null && y < 1) return x === null ? null : 0 - x
        if (x === null || y === null) fallen.push(row)
        return y
      }),
    )
    expect(
      book
        .table('t')
        .column('choice')
        .findings()
        .find((one) => one.code === 'blank-falls-through')?.rows ?? 0,
    ).toBe(fallen.length)
  },
)
