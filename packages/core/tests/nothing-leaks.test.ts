import { beforeEach, describe, expect, test } from 'vitest'
import { Workbook } from '../src/index.js'
import { Column } from '../src/storage.js'

/** What goes in and what comes out belongs to the caller: neither changes with the workbook, nor the workbook with it. */

const ROWS = 5000
let book: Workbook

beforeEach(() => {
  book = new Workbook()
  book.apply({
    op: 'add-table',
    table: 'harvests',
    columns: [
      { name: 'hive', type: 'text' },
      { name: 'kg', type: 'number' },
    ],
  })
})

const rowsOf = (count: number): { hive: string; kg: number | null }[] =>
  Array.from({ length: count }, (_, row) => ({ hive: `H${row % 40}`, kg: row % 9 === 0 ? null : row / 4 }))

function storageOf(values: readonly number[]): Column {
  const column = new Column('number')
  for (const [slot, value] of values.entries()) {
    column.occupy(slot)
    column.write(slot, value)
  }
  return column
}

describe('what comes out', () => {
  test.each([['few rows', 3] as const, ['many rows', ROWS] as const])('a result of %s stays as it was', (_, count) => {
    book.apply({ op: 'insert-rows', table: 'harvests', rows: rowsOf(count) })
    book.apply({ op: 'add-column', table: 'harvests', column: { name: 'double', formula: 'kg * 2' } })
    const result = book.query({ table: 'harvests' })
    const before = { rows: result.rows(), ids: result.ids(), stored: result.columns.map(({ storage }) => storage?.toJSON()) }
    book.apply([
      { op: 'set-cells', table: 'harvests', cells: [{ row: 2, column: 'kg', value: 99 }] },
      { op: 'set-cells', table: 'harvests', cells: [{ row: 2, column: 'hive', value: 'moved' }] },
      { op: 'remove-rows', table: 'harvests', rows: [1] },
      { op: 'insert-rows', table: 'harvests', rows: [{ hive: 'new', kg: 1 }] },
    ])
    expect(book.table('harvests').column('double').value(2)).toBe(198)
    expect({
      rows: result.rows(),
      ids: result.ids(),
      stored: result.columns.map(({ storage }) => storage?.toJSON()),
    }).toEqual(before)
  })

  test.each([
    ['rows', { rows: rowsOf(ROWS) }],
    ['a block of lists', { block: { hive: rowsOf(ROWS).map(({ hive }) => hive), kg: rowsOf(ROWS).map(({ kg }) => kg) } }],
    ['an array of numbers', { block: { kg: Float64Array.from({ length: ROWS }, (_, row) => row / 4) } }],
    ['finished storage', { block: { kg: storageOf(Array.from({ length: ROWS }, (_, row) => row / 4)) } }],
  ])('a change set with %s survives being cloned or printed, and still says what was given', (_, given) => {
    const change = book.apply({ op: 'insert-rows', table: 'harvests', ...given })
    const before = book.query({ table: 'harvests' }).rows()
    book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 7, column: 'kg', value: -1 }] })
    for (const sent of [structuredClone(change), JSON.parse(JSON.stringify(change)) as typeof change]) {
      const other = new Workbook()
      other.apply({
        op: 'add-table',
        table: 'harvests',
        columns: [
          { name: 'hive', type: 'text' },
          { name: 'kg', type: 'number' },
        ],
      })
      other.applyJson(sent.operations)
      expect(other.query({ table: 'harvests' }).rows()).toEqual(before)
    }
  })
})

describe('what goes in', () => {
  test('rows may be used again by who gave them', () => {
    const rows = rowsOf(ROWS)
    const few = [{ hive: 'last', kg: 5 }]
    book.apply({ op: 'insert-rows', table: 'harvests', rows })
    book.apply({ op: 'insert-rows', table: 'harvests', rows: few })
    const before = book.query({ table: 'harvests' }).rows()
    for (const row of [...rows, ...few]) row.kg = -5
    book.undo()
    book.undo()
    book.redo()
    book.redo()
    expect(book.query({ table: 'harvests' }).rows()).toEqual(before)
  })

  test('finished storage may be used for several workbooks', () => {
    const kg = storageOf([1, 2, 3])
    const other = new Workbook()
    other.apply({ op: 'add-table', table: 'harvests', columns: [{ name: 'kg', type: 'number' }] })
    for (const one of [book, other]) one.apply({ op: 'insert-rows', table: 'harvests', block: { kg } })
    book.apply({ op: 'set-cells', table: 'harvests', cells: [{ row: 2, column: 'kg', value: 7 }] })
    expect([book, other].map((one) => one.table('harvests').column('kg').values())).toEqual([
      [1, 7, 3],
      [1, 2, 3],
    ])
    expect(kg.toJSON()).toEqual([1, 2, 3])
    book.undo()
    book.undo()
    book.redo()
    expect(book.table('harvests').column('kg').values()).toEqual([1, 2, 3])
  })
})
